import { area, curveMonotoneX, line, max, scaleLinear, scaleUtc } from "d3";
import { answerSpans, bells, graceEnd, shortMoment, wallTimeOf, type AnswerSpan, type Bell, type LaunchPlan } from "../../core/launch";
import { formatMoney } from "../../core/money";
import { BellMark } from "../kit/BellGlyph";
import styles from "./Score.module.css";

export interface Hour {
  hour: string;
  visits: number;
  orders: number;
}

const day = 86_400_000;
const left = 104;

/** The span a score shows: from a little before the run-up (or the last ten days of it) to a little after the last bell. */
export const scoreRange = (plan: LaunchPlan, now: number): [Date, Date] => {
  const from = Math.max(plan.runUpFrom.getTime(), plan.window.opens.getTime() - 9 * day);
  const to = Math.max(graceEnd(plan).getTime(), Math.min(now, graceEnd(plan).getTime() + 2 * day));
  const air = (to - from) * 0.07;
  return [new Date(from - air * 0.4), new Date(to + air)];
};
export const timeScale = (from: Date, to: Date, width: number) => scaleUtc([from, to], [left, width - 8]);

const answerWords: Record<AnswerSpan["answer"], string> = {
  optin: "opt-in and countdown",
  sales: "sales page",
  checkout: "checkout",
  offer: "offer",
  thanks: "thank-you page",
  closed: "closed page",
  unpublished: "not published",
  elsewhere: "with an order only",
};
const bellShort = { run_up: "Run-up", opening: "Doors open", closing: "Doors close", grace_end: "" } as const;

interface Props {
  plan: LaunchPlan;
  curve: Hour[];
  figures: { people: number; orders: string };
  from: Date;
  to: Date;
  width: number;
  now: number;
  playhead?: number;
}

const Lane = ({ y, name, width }: { y: number; name: string; width: number }) => (
  <g>
    <line x1={0} x2={width} y1={y} y2={y} stroke="var(--hair)" />
    <text x={0} y={y + 18} className={styles.laneName}>
      {name}
    </text>
  </g>
);

/** The lanes of the score: bells, the page behind each address, price, arrivals and orders, on one time axis. */
export const ScoreLanes = ({ plan, curve, figures, from, to, width, now, playhead }: Props) => {
  const x = timeScale(from, to, width);
  const rows = plan.pages.map((page, index) => ({ page, y: 104 + index * 25 }));
  const priceY = 104 + rows.length * 25 + 8;
  const curveY = priceY + 56;
  const bottom = curveY + 152;
  const { opens, closes } = plan.window;
  const days: Date[] = [];
  for (let ms = from.getTime(); ms < to.getTime() + day; ms += day / 24) {
    const at = new Date(Math.ceil(ms / 3_600_000) * 3_600_000);
    if (wallTimeOf(at, plan.zone).endsWith("T00:00") && at > from && at < to && days.at(-1)?.getTime() !== at.getTime()) days.push(at);
  }
  // The two labels of a short launch stand apart: the opening's before its bell, the closing's before the edge.
  const anchorOf = ({ at, kind }: Bell) => {
    if (x(at) < left + 30) return "start";
    const crowded = kind === "opening" && x(closes) - x(opens) < 190;
    return crowded || x(at) > width - 60 ? "end" : "middle";
  };
  const every = Math.ceil(days.length / (width / 66));
  const shown = curve.map(({ hour, ...n }) => ({ at: new Date(hour), ...n })).filter(({ at }) => at >= from && at <= to);
  const upTo = new Date(Math.min(now, to.getTime()));
  const filled = fillHours(shown, from, upTo);
  const y = scaleLinear([0, max(filled, (h) => h.visits) || 1], [bottom, curveY + 44]);
  const yOrders = scaleLinear([0, (max(filled, (h) => h.orders) || 1) * 2.6], [bottom, curveY + 44]);
  const visits = area<Filled>()
    .x((h) => x(h.at))
    .y0(bottom)
    .y1((h) => y(h.visits))
    .curve(curveMonotoneX);
  const visitLine = line<Filled>()
    .x((h) => x(h.at))
    .y((h) => y(h.visits))
    .curve(curveMonotoneX);
  const orders = area<Filled>()
    .x((h) => x(h.at))
    .y0(bottom)
    .y1((h) => yOrders(h.orders))
    .curve(curveMonotoneX);
  return (
    <svg width={width} height={bottom + 34} viewBox={`0 0 ${width} ${bottom + 34}`} aria-hidden="true" className={styles.svg}>
      <defs>
        <pattern id="closed-hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="6" height="6" fill="var(--paper)" />
          <rect width="1.6" height="6" fill="#b9c0b4" />
        </pattern>
      </defs>
      <rect x={x(opens)} y={24} width={x(closes) - x(opens)} height={bottom - 24} fill="var(--panel)" />
      {days.map((at, index) => (
        <g key={at.toISOString()}>
          <line x1={x(at)} x2={x(at)} y1={24} y2={bottom} stroke="var(--hair)" />
          {index % every === 0 && x(at) < width - 44 && (
            <text x={x(at) + 4} y={16} className={styles.day}>
              {shortMoment(at, plan.zone).split(",").slice(0, 1)[0]!.replace(/ \w+$/, "")}
            </text>
          )}
        </g>
      ))}
      <Lane y={26} name="Bells" width={width} />
      <line x1={left} x2={width - 8} y1={62} y2={62} stroke="var(--ink)" />
      {bells(plan).map((bell) => {
        // The end of the grace time stands so close behind the closing bell that its mark would cover it.
        if (bell.kind === "grace_end" || bell.at < from) return undefined;
        return (
          <g key={bell.kind} color="var(--bronze)">
            <BellMark kind={bell.kind} x={x(bell.at)} y={54} scale={1.5} />
            <text x={x(bell.at)} y={82} textAnchor={anchorOf(bell)} className={styles.bell}>
              {bellShort[bell.kind]} {shortMoment(bell.at, plan.zone).slice(-5)}
            </text>
          </g>
        );
      })}
      <Lane y={92} name="Pages" width={width} />
      {rows.map(({ page, y: top }) => (
        <g key={page.kind}>
          <text x={left - 6} y={top + 12.5} textAnchor="end" className={styles.address}>
            /{page.slug || ""}
          </text>
          {answerSpans(plan, page.slug, from, to).map((span) => {
            const own = span.answer === page.kind;
            const off = span.answer === "unpublished" || span.answer === "elsewhere" || span.answer === "closed";
            const w = x(span.to) - x(span.from) - 1.5;
            return (
              <g key={span.from.toISOString()}>
                <rect
                  x={x(span.from)}
                  y={top}
                  width={Math.max(1, w)}
                  height={17}
                  fill={off ? "url(#closed-hatch)" : own ? "var(--ink)" : "var(--panel)"}
                  stroke={own || off ? "none" : "var(--ink)"}
                />
                {w > answerWords[span.answer].length * 6.1 + 8 && (
                  <g>
                    {off && (
                      <rect x={x(span.from) + 3} y={top + 2} width={answerWords[span.answer].length * 5.9 + 5} height={13} fill="var(--paper)" />
                    )}
                    <text x={x(span.from) + 5} y={top + 12.5} className={styles.span} fill={own && !off ? "#fff" : "var(--ink)"}>
                      {answerWords[span.answer]}
                    </text>
                  </g>
                )}
              </g>
            );
          })}
        </g>
      ))}
      <Lane y={priceY} name="Price" width={width} />
      <line x1={x(opens)} x2={x(closes)} y1={priceY + 36} y2={priceY + 36} stroke="var(--verdigris)" strokeWidth="2.5" />
      <text x={x(opens) + 5} y={priceY + 28} className={styles.price}>
        {formatMoney(plan.price.minor, plan.price.currency)}
      </text>
      <Lane y={curveY} name="Arrivals" width={width} />
      <text x={0} y={curveY + 34} className={styles.laneName}>
        and orders
      </text>
      <path d={visits(filled) ?? ""} fill="var(--woad-tint)" />
      <path d={visitLine(filled) ?? ""} fill="none" stroke="var(--woad)" strokeWidth="1.3" />
      <path d={orders(filled) ?? ""} fill="var(--verdigris)" />
      <text x={left + 8} y={curveY + 19} className={styles.people}>
        {figures.people.toLocaleString("en")} people
        <tspan className={styles.price} dx="14">
          {figures.orders}
        </tspan>
      </text>
      <text x={left - 6} y={curveY + 58} textAnchor="end" className={styles.day}>
        {max(filled, (h) => h.visits) ?? 0} an hour
      </text>
      <line x1={left - 4} x2={left} y1={curveY + 44} y2={curveY + 44} stroke="var(--ink-3)" />
      <line x1={0} x2={width} y1={bottom} y2={bottom} stroke="var(--ink)" />
      {now >= from.getTime() && now <= to.getTime() && (
        <g>
          <line x1={x(now)} x2={x(now)} y1={24} y2={bottom} stroke="var(--ink)" strokeWidth="1.2" strokeDasharray="2 3" />
          <text x={x(now) + 4} y={bottom - 6} className={styles.nowWord}>
            now
          </text>
        </g>
      )}
      {playhead !== undefined && (
        <g>
          <line x1={x(playhead)} x2={x(playhead)} y1={20} y2={bottom + 8} stroke="var(--madder)" strokeWidth="2" />
          <path d={`M${x(playhead) - 7} ${bottom + 4}h14v9l-7 8l-7-8z`} fill="var(--madder)" />
          <text
            x={Math.min(width - 4, x(playhead) + 12)}
            y={bottom + 18}
            textAnchor={x(playhead) > width - 130 ? "end" : "start"}
            dx={x(playhead) > width - 130 ? -24 : 0}
            className={styles.playhead}
          >
            {shortMoment(new Date(playhead), plan.zone)}
          </text>
        </g>
      )}
    </svg>
  );
};

interface Filled {
  at: Date;
  visits: number;
  orders: number;
}

/** Every hour from the first to `upTo`, with zeros where nothing happened: a curve must not bridge the night. */
const fillHours = (hours: Filled[], from: Date, upTo: Date): Filled[] => {
  const byHour = new Map(hours.map((h) => [h.at.getTime(), h]));
  const filled: Filled[] = [];
  const hour = 3_600_000;
  for (let ms = Math.ceil(from.getTime() / hour) * hour; ms <= upTo.getTime(); ms += hour)
    filled.push(byHour.get(ms) ?? { at: new Date(ms), visits: 0, orders: 0 });
  return filled;
};
