import { scaleUtc, timeMonth, utcFormat } from "d3";
import { phaseOf, recurrenceWords, windowFor, windowsFor, type LaunchPlan } from "../../core/launch";
import { shortMoment } from "../../core/words";
import { BellMark } from "../kit/BellGlyph";
import kit from "../kit/kit.module.css";
import styles from "./LaunchAxis.module.css";

export interface AxisLaunch {
  plan: LaunchPlan;
  /** Its name, told apart from others of the same name. */
  name: string;
  status: string;
  /** Money so far, formatted, and what it counts. */
  money: string;
  counts: string;
  draft: boolean;
  /** When it was started: an always-on launch runs from then on. */
  since: Date;
}

const dayMs = 86_400_000;
/** The stretch of the axis that a launch asks for. */
const reach = ({ plan, since }: AxisLaunch, now: Date): Date[] => {
  const window = windowFor(plan, {}, now);
  if (plan.clock.kind === "fixed") return [plan.clock.runUp, plan.clock.window.closes];
  return window ? [window.opens, window.closes] : [since];
};

const when = ({ plan, since }: AxisLaunch, now: Date): string => {
  if (plan.clock.kind === "personal") return `since ${shortMoment(since, plan.zone)}`;
  const window = windowFor(plan, {}, now)!;
  const span = `${shortMoment(window.opens, plan.zone)} to ${shortMoment(window.closes, plan.zone)}`;
  return plan.clock.kind === "recurring" ? `${recurrenceWords(plan.clock)}; ${span}` : span;
};

const [width, rowHeight, head] = [620, 92, 30];

/** Launches on one time axis: run-up, doors-open span, bells, now. Drawn beside the rows' own words. */
export const LaunchAxis = ({ launches, now }: { launches: AxisLaunch[]; now: Date }) => {
  const instants = launches.flatMap((launch) => reach(launch, now).map((at) => at.getTime())).concat(now.getTime());
  const x = scaleUtc([Math.min(...instants) - 6 * dayMs, Math.max(...instants) + 12 * dayMs], [0, width]);
  const [from, to] = x.domain() as [Date, Date];
  const height = head + launches.length * rowHeight;
  return (
    <div className={`${styles.axis} ${kit.wide}`} tabIndex={0} role="region" aria-label="Launches on a time axis">
      <div className={styles.grid} style={{ gridTemplateRows: `${head}px repeat(${launches.length}, ${rowHeight}px)` }}>
        <span className={styles.soFar}>so far, tax included</span>
        <svg className={styles.drawing} viewBox={`0 0 ${width} ${height}`} width={width} height={height} aria-hidden="true">
          <defs>
            <pattern id="always-on" width="7" height="14" patternUnits="userSpaceOnUse">
              <rect width="7" height="14" fill="var(--panel)" />
              <rect x="2" y="4" width="3" height="6" fill="var(--ink)" />
            </pattern>
          </defs>
          {timeMonth.range(from, to).map((month) => (
            <g key={month.toISOString()} transform={`translate(${x(month)} 0)`}>
              <line y1="6" y2={height} stroke="var(--hair)" />
              <text x="5" y="17" className={styles.month}>
                {utcFormat("1 %b")(month)}
              </text>
            </g>
          ))}
          {launches.map(({ plan, draft, since }, index) => {
            const y = head + index * rowHeight + 34;
            if (plan.clock.kind === "personal")
              // Open to each person in their own time: no bell of everyone's, and no end.
              return (
                <g key={plan.slug}>
                  <rect x={x(since)} y={y} width={Math.max(0, width - x(since))} height="14" fill="url(#always-on)" stroke="var(--ink)" />
                </g>
              );
            const { clock } = plan;
            return (
              <g key={plan.slug} color="var(--bronze)">
                {clock.kind === "fixed" && (
                  <rect
                    x={x(clock.runUp)}
                    y={y}
                    width={Math.max(0, x(clock.window.opens) - x(clock.runUp))}
                    height="14"
                    fill={draft ? "none" : "var(--bronze-tint)"}
                    stroke={draft ? "var(--ink-3)" : "none"}
                    strokeDasharray="3 3"
                  />
                )}
                {windowsFor(plan, {}, from, to).map(({ opens, closes }) => (
                  <g key={opens.getTime()}>
                    <rect
                      x={x(opens)}
                      y={y}
                      width={Math.max(1, x(closes) - x(opens))}
                      height="14"
                      fill={draft ? "var(--paper)" : phaseOf({ opens, closes }, now) === "after" ? "var(--ink-2)" : "var(--ink)"}
                      stroke="var(--ink)"
                      strokeWidth={draft ? 1.4 : 0}
                    />
                    <BellMark kind="opening" x={x(opens)} y={y - 8} scale={1.25} />
                    <BellMark kind="closing" x={x(closes)} y={y - 8} scale={1.25} />
                  </g>
                ))}
              </g>
            );
          })}
          <line x1={x(now)} x2={x(now)} y1="6" y2={height} stroke="var(--ink)" strokeDasharray="2 3" strokeWidth="1.2" />
          <text x={x(now) + 5} y={height - 6} className={styles.now}>
            now
          </text>
        </svg>
        {launches.map((launch, index) => {
          const { plan, name, status, money, counts, draft } = launch;
          const window = windowFor(plan, {}, now);
          return (
            <div key={plan.slug} className={styles.row} style={{ gridRow: index + 2 }}>
              <div>
                <h2>
                  <a href={`/desk/${plan.slug}/score`}>{name}</a>
                </h2>
                <p className="muted">{when(launch, now)}</p>
                <p className={draft ? styles.draft : styles[window ? phaseOf(window, now) : "during"]}>{status}</p>
              </div>
              <div className={styles.money}>
                <strong>{money}</strong>
                <p className="muted">{counts}</p>
              </div>
            </div>
          );
        })}
      </div>
    </div>
  );
};
