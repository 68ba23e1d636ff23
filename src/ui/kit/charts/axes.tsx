import type { Tick } from "./timeTicks";
import styles from "./charts.module.css";

interface TimeAxisProps {
  x: (at: Date) => number;
  ticks: Tick[];
  top: number;
  bottom: number;
  /** No label begins right of here. */
  right: number;
}

/** Instants along the top, a hairline under each. */
export const TimeAxis = ({ x, ticks, top, bottom, right }: TimeAxisProps) => (
  <g className={styles.axis}>
    {ticks.map(({ at, label }) => (
      <g key={at.toISOString()}>
        <line x1={x(at)} x2={x(at)} y1={top} y2={bottom} className={styles.grid} />
        {label && x(at) < right && (
          <text x={x(at) + 4} y={top - 8}>
            {label}
          </text>
        )}
      </g>
    ))}
  </g>
);

interface BandAxisProps {
  /** The base line's end, in the drawing's units, from 0. */
  width: number;
  y: number;
  labels: { x: number; text: string }[];
}

/** A base line with a label under each band. */
export const BandAxis = ({ width, y, labels }: BandAxisProps) => (
  <g className={styles.axis}>
    <line x1={0} x2={width} y1={y} y2={y} className={styles.base} />
    {labels.map(({ x, text }) => (
      <text key={x} x={x} y={y + 16} textAnchor="middle">
        {text}
      </text>
    ))}
  </g>
);

/** One value of an axis at the left, with its tick. */
export const ValueMark = ({ x, y, text }: { x: number; y: number; text: string }) => (
  <g className={styles.axis}>
    <text x={x - 6} y={y + 12} textAnchor="end">
      {text}
    </text>
    <line x1={x - 4} x2={x} y1={y} y2={y} className={styles.base} />
  </g>
);
