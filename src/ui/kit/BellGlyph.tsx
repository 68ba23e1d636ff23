import type { BellKind } from "../../core/launch";

/**
 * Our bell: a half-disc on a bar. The opening bell (and the start of a person's own clock) is full, the closing bell has
 * its striker up, the others are outlines, a price bell one with a bar above: shapes tell them apart without colour.
 */
export const BellMark = ({ kind, x = 0, y = 0, scale = 1 }: { kind: BellKind; x?: number; y?: number; scale?: number }) => {
  const hollow = kind !== "opening" && kind !== "start" && kind !== "closing" && kind !== "stop";
  return (
    <g transform={`translate(${x} ${y}) scale(${scale})`}>
      <path
        d="M-5 3a5 5 0 0 1 10 0z"
        fill={hollow ? "var(--paper)" : "currentColor"}
        stroke="currentColor"
        strokeWidth="1.5"
        strokeDasharray={kind === "grace_end" ? "2 1.4" : undefined}
      />
      <rect x="-6.5" y="3.6" width="13" height="1.8" fill="currentColor" />
      {kind === "price" && <rect x="-3.4" y="-4.6" width="6.8" height="1.6" fill="currentColor" />}
      {(kind === "closing" || kind === "stop") && <rect x="-0.8" y="-5.8" width="1.6" height="3.2" fill="currentColor" />}
    </g>
  );
};

export const BellGlyph = ({ kind, size = 16 }: { kind: BellKind; size?: number }) => (
  <svg width={size} height={size} viewBox="-8 -8 16 16" aria-hidden="true" focusable="false">
    <BellMark kind={kind} />
  </svg>
);
