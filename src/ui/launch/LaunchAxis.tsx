import { scaleUtc, timeMonth, utcFormat } from "d3";
import { bells, phaseOf, shortMoment, type LaunchPlan } from "../../core/launch";
import { BellMark } from "../kit/BellGlyph";
import styles from "./LaunchAxis.module.css";

export interface AxisLaunch {
  plan: LaunchPlan;
  standing: string;
  /** Money so far, formatted, and what it counts. */
  money: string;
  counts: string;
  draft: boolean;
}

const [width, rowHeight, head] = [620, 92, 30];

/** Launches on one time axis: run-up, doors-open span, bells, now. Drawn beside the rows' own words. */
export const LaunchAxis = ({ launches, now }: { launches: AxisLaunch[]; now: Date }) => {
  const instants = launches.flatMap(({ plan }) => bells(plan).map(({ at }) => at.getTime())).concat(now.getTime());
  const day = 86_400_000;
  const x = scaleUtc([Math.min(...instants) - 6 * day, Math.max(...instants) + 12 * day], [0, width]);
  const [from, to] = x.domain() as [Date, Date];
  const height = head + launches.length * rowHeight;
  return (
    <div className={styles.axis} tabIndex={0} role="region" aria-label="Launches on a time axis">
      <div className={styles.grid} style={{ gridTemplateRows: `${head}px repeat(${launches.length}, ${rowHeight}px)` }}>
        <span className={styles.soFar}>so far, tax included</span>
        <svg className={styles.drawing} viewBox={`0 0 ${width} ${height}`} width={width} height={height} aria-hidden="true">
          {timeMonth.range(from, to).map((month) => (
            <g key={month.toISOString()} transform={`translate(${x(month)} 0)`}>
              <line y1="6" y2={height} stroke="var(--hair)" />
              <text x="5" y="17" className={styles.month}>
                {utcFormat("1 %b")(month)}
              </text>
            </g>
          ))}
          {launches.map(({ plan, draft }, index) => {
            const y = head + index * rowHeight + 34;
            const { opens, closes } = plan.window;
            const after = phaseOf(plan.window, now) === "after";
            return (
              <g key={plan.slug} color="var(--bronze)">
                <rect
                  x={x(plan.runUpFrom)}
                  y={y}
                  width={Math.max(0, x(opens) - x(plan.runUpFrom))}
                  height="14"
                  fill={draft ? "none" : "var(--bronze-tint)"}
                  stroke={draft ? "var(--ink-3)" : "none"}
                  strokeDasharray="3 3"
                />
                <rect
                  x={x(opens)}
                  y={y}
                  width={x(closes) - x(opens)}
                  height="14"
                  fill={draft ? "var(--paper)" : after ? "var(--ink-2)" : "var(--ink)"}
                  stroke="var(--ink)"
                  strokeWidth={draft ? 1.4 : 0}
                />
                <BellMark kind="opening" x={x(opens)} y={y - 8} scale={1.25} />
                <BellMark kind="closing" x={x(closes)} y={y - 8} scale={1.25} />
              </g>
            );
          })}
          <line x1={x(now)} x2={x(now)} y1="6" y2={height} stroke="var(--ink)" strokeDasharray="2 3" strokeWidth="1.2" />
          <text x={x(now) + 5} y={height - 6} className={styles.now}>
            now
          </text>
        </svg>
        {launches.map(({ plan, standing, money, counts, draft }, index) => (
          <div key={plan.slug} className={styles.row} style={{ gridRow: index + 2 }}>
            <div>
              <h2>
                <a href={`/desk/${plan.slug}/score`}>{plan.name}</a>
              </h2>
              <p className="muted">
                {shortMoment(plan.window.opens, plan.zone)} to {shortMoment(plan.window.closes, plan.zone)}
              </p>
              <p className={draft ? styles.draft : styles[phaseOf(plan.window, now)]}>{standing}</p>
            </div>
            <div className={styles.money}>
              <strong>{money}</strong>
              <p className="muted">{counts}</p>
            </div>
          </div>
        ))}
      </div>
    </div>
  );
};
