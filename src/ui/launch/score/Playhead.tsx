import { shortMoment } from "../../../core/words";
import { BellMark } from "../../kit/BellGlyph";
import type { Bell } from "../../../core/launch";
import { timeScale } from "./timeAxis";
import styles from "./Score.module.css";

interface Props {
  at?: number;
  /** A bell on its way to another instant. */
  dragged?: { kind: Bell["kind"]; to: number };
  zone: string;
  from: Date;
  to: Date;
  width: number;
  bottom: number;
  /** What came in the hour under the playhead. */
  hour?: string;
}

/** The playhead, and a bell under way, drawn above the lanes: moving them draws nothing else anew. */
export const Playhead = ({ at, dragged, zone, from, to, width, bottom, hour }: Props) => {
  const x = timeScale(from, to, width);
  const inside = at !== undefined && at >= from.getTime() && at <= to.getTime();
  const end = inside && x(at) > width - (hour ? 300 : 130);
  return (
    <svg width={width} height={bottom + 34} viewBox={`0 0 ${width} ${bottom + 34}`} aria-hidden="true" className={styles.overlay}>
      {inside && (
        <g>
          <line x1={x(at)} x2={x(at)} y1={20} y2={bottom + 8} stroke="var(--madder)" strokeWidth="2" />
          <path d={`M${x(at) - 7} ${bottom + 4}h14v9l-7 8l-7-8z`} fill="var(--madder)" />
          <text x={x(at) + (end ? -12 : 12)} y={bottom + 18} textAnchor={end ? "end" : "start"} className={styles.playhead}>
            {shortMoment(new Date(at), zone)}
            {hour && (
              <tspan className={styles.hour} dx="8">
                {hour}
              </tspan>
            )}
          </text>
        </g>
      )}
      {dragged && (
        <g color="var(--madder)">
          <line x1={x(dragged.to)} x2={x(dragged.to)} y1={30} y2={bottom} stroke="var(--madder)" strokeDasharray="4 3" />
          <BellMark kind={dragged.kind} x={x(dragged.to)} y={52} scale={1.7} />
          <text x={x(dragged.to)} y={30} textAnchor="middle" className={styles.playhead}>
            {shortMoment(new Date(dragged.to), zone)}
          </text>
        </g>
      )}
    </svg>
  );
};
