import { bisectCenter } from "d3";
import { useState, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import { ChartTable, type ChartTableProps } from "./ChartTable";
import styles from "./charts.module.css";

/** A place of the drawing that can be read: where it stands, in the drawing's own units, and what it says. */
export interface ChartPoint {
  x: number;
  words: string;
}

interface Props {
  /** What is drawn, in a few words. */
  name: string;
  /** The drawing in one sentence, for who does not see it. */
  summary: string;
  /** In pixels of the screen, so that words keep their size; the width as `useWidth` finds it. */
  width: number;
  height: number;
  /** From left to right. */
  points: ChartPoint[];
  table: Omit<ChartTableProps, "name">;
  children: ReactNode;
}

/** Where the keys lead from a point; undefined where a key is none of the chart's. */
export const pointAfter = (key: string, reading: number | undefined, count: number): number | undefined => {
  const last = count - 1;
  if (key === "Home") return 0;
  if (key === "End") return last;
  if (key === "ArrowRight") return Math.min(last, (reading ?? -1) + 1);
  if (key === "ArrowLeft") return Math.max(0, (reading ?? count) - 1);
  return undefined;
};

/**
 * A drawing whose points can be read one by one: by pointing at them, or, as one stop of the keyboard, by arrows, Home and End.
 * The point read is announced; the figures stand below as a table.
 */
export const Chart = ({ name, summary, width, height, points, table, children }: Props) => {
  const [reading, setReading] = useState<number>();
  const point = reading === undefined ? undefined : points[reading];
  const keys = (event: KeyboardEvent) => {
    if (event.key === "Escape") return setReading(undefined);
    const next = pointAfter(event.key, reading, points.length);
    if (next === undefined || points.length === 0) return;
    event.preventDefault();
    setReading(next);
  };
  const hover = (event: PointerEvent<HTMLDivElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * width;
    if (points.length > 0)
      setReading(
        bisectCenter(
          points.map((one) => one.x),
          x,
        ),
      );
  };
  const along = point ? point.x / width : 0;
  return (
    <figure className={styles.chart}>
      <div
        className={styles.drawing}
        tabIndex={0}
        role="group"
        aria-label={`${name}. ${summary} Arrows read it point by point.`}
        onKeyDown={keys}
        onBlur={() => setReading(undefined)}
        onPointerMove={hover}
        onPointerLeave={() => setReading(undefined)}
      >
        <svg viewBox={`0 0 ${width} ${height}`} width={width} height={height} aria-hidden="true">
          {children}
          {point && <line x1={point.x} x2={point.x} y1={0} y2={height} className={styles.hair} />}
        </svg>
        <p className={styles.tip} role="status" style={{ left: `${100 * along}%`, transform: `translateX(${-100 * along}%)` }} hidden={!point}>
          {point?.words}
        </p>
      </div>
      <ChartTable name={name} {...table} />
    </figure>
  );
};
