import type { SequenceLane } from "../../../core/emails";
import { memo } from "react";
import {
  answerSpans,
  bells,
  counterBells,
  countdownSpans,
  priceAt,
  windowsFor,
  type AddressView,
  type Bell,
  type LaunchPage,
  type LaunchPlan,
  type Viewer,
  soldAt,
  type SaleSteps,
  counterHistory,
} from "../../../core/launch";
import { shortMoment, counted } from "../../../core/words";
import { formatBasisPoints, formatRoughly } from "../../kit/data/numbers";
import { pageNames } from "../../../core/pages";
import { BellMark } from "../../kit/BellGlyph";
import { ArrivalCurve, type Hour } from "./ArrivalCurve";
import { PriceLane } from "./PriceLane";
import { TimeAxis } from "../../kit/charts/axes";
import { axisTicks } from "../../kit/charts/timeTicks";
import { hour, laneLeft as left, timeScale } from "./timeAxis";
import styles from "./Score.module.css";

interface Props {
  plan: LaunchPlan;
  who: Viewer;
  /** None where the launch is only being drafted. */
  arrivals?: { curve: Hour[]; people: number; orders: string } | undefined;
  /** Instants at which the main product was sold, where seats or the price hang on them; milliseconds. */
  sales: SaleSteps;
  sequences: readonly SequenceLane[];
  from: Date;
  to: Date;
  width: number;
  now: number;
  /** Keys of the bells that have rung. */
  run: ReadonlySet<string>;
  selected?: string;
}

/** Bells that stand on the bell line with a mark of their own; emails, stages and looks have their lanes. */
const marked: readonly Bell["kind"][] = ["run_up", "opening", "closing", "price", "start", "stop"];
const bellWords: Partial<Record<Bell["kind"], string>> = {
  run_up: "Run-up",
  opening: "Doors open",
  closing: "Doors close",
  price: "Price",
  start: "Clock starts",
  stop: "Stops",
};

const Lane = ({ y, name, width }: { y: number; name: string; width: number }) => (
  <g>
    <line x1={0} x2={width} y1={y} y2={y} stroke="var(--hair)" />
    <text x={0} y={y + 18} className={styles.laneName}>
      {name}
    </text>
  </g>
);

const answerWords = (answer: AddressView["answer"], owner: LaunchPage): { text: string; own: boolean; off: boolean } => {
  if ("redirect" in answer)
    return {
      own: false,
      off: true,
      text: {
        home: "with an order only",
        checkout: "without an order: its own checkout",
        launch: "to another launch",
        outside: "to another address",
      }[answer.redirect],
    };
  const { page } = answer;
  if (!page.published) return { text: "not published", own: false, off: true };
  const name = page.kind === "content" ? page.title : pageNames[page.kind].toLowerCase();
  return { text: name, own: page.key === owner.key, off: page.kind === "closed" };
};

/** Cuts a text to what fits into a width of 12 px type. */
const fitting = (text: string, room: number): string => {
  const most = Math.floor((room - 8) / 6);
  return text.length <= most ? text : most < 5 ? "" : `${text.slice(0, most - 1)}…`;
};

const rowHeight = 18;
/** A sequence's own line, with room for its bars. */
const stepsHeight = 24;
const looks = { quiet: "var(--bronze-tint)", firm: "var(--bronze)", loud: "var(--madder)" } as const;

/** Where the lanes stand, from the top. */
export const laneHeights = (plan: LaunchPlan, sequences: readonly SequenceLane[], withArrivals = true) => {
  const pages = 90;
  const countdown = pages + 8 + plan.pages.length * rowHeight + 6;
  const price = countdown + 32;
  const emails = price + 54;
  const rows = plan.settings.emails.length === 0 ? 0 : Math.min(3, plan.settings.emails.length);
  const steps = emails + (rows ? rows * 17 + 14 : 0);
  const partners = steps + (sequences.length > 0 ? 12 + sequences.length * stepsHeight : 0);
  const curve = partners + (plan.featured.length > 0 ? 32 : 0);
  return { pages, countdown, price, emails, rows, steps, partners, curve, bottom: withArrivals ? curve + 98 : curve };
};

interface SequenceRowsProps {
  sequences: readonly SequenceLane[];
  x: ReturnType<typeof timeScale>;
  from: Date;
  to: Date;
  now: number;
  top: number;
  width: number;
}

/** The sequences of a launch, each on a line of its own: bars of what went in six hours, or one person's steps. */
const SequenceRows = ({ sequences, x, from, to, now, top, width }: SequenceRowsProps) => {
  const most = Math.max(1, ...sequences.flatMap(({ sent }) => sent.map((span) => span.sent)));
  const wide = Math.max(2, x(new Date(from.getTime() + 6 * hour)) - x(from) - 1.5);
  const within = ({ at }: { at: Date }) => at >= from && at <= to;
  return (
    <>
      <line x1={0} x2={width} y1={top} y2={top} stroke="var(--hair)" />
      {sequences.map(({ id, name, marks, sent }, index) => {
        const y = top + 6 + (index + 1) * stepsHeight;
        return (
          <g key={id}>
            <text x={left - 6} y={y - 3} textAnchor="end" className={styles.address}>
              {fitting(name, 104)}
            </text>
            <line x1={left} x2={width - 8} y1={y} y2={y} stroke="var(--hair)" />
            {sent.filter(within).map(({ at, sent: n }) => (
              <rect key={at.getTime()} x={x(at)} y={y - (n / most) * 17} width={wide} height={(n / most) * 17} fill="var(--woad)" />
            ))}
            {marks?.filter(within).map(({ step, at }) => (
              <rect
                key={step}
                x={x(at) - 4}
                y={y - 12}
                width={8}
                height={8}
                fill={at.getTime() <= now ? "var(--ink)" : "var(--paper)"}
                stroke="var(--ink)"
                strokeWidth="1.4"
              />
            ))}
          </g>
        );
      })}
    </>
  );
};

/** The lanes of the score on one time axis: bells, the page behind each address, countdown looks, price and seats, emails, arrivals and orders. */
export const ScoreLanes = memo(({ plan, who, arrivals, sales, sequences, from, to, width, now, run, selected }: Props) => {
  const x = timeScale(from, to, width);
  const clampX = (at: Date) => Math.min(width - 8, Math.max(left, x(at)));
  const lanes = laneHeights(plan, sequences, arrivals !== undefined);
  const height = lanes.bottom + (arrivals ? 34 : 1);
  const byCounters = counterBells(plan, sales).filter(({ at }) => at >= from && at <= to);
  const all = [...bells(plan, who, { from, to }), ...byCounters];
  const windows = windowsFor(plan, who, from, to);
  const history = counterHistory(plan, sales);
  // Labels stand beside one another or not at all.
  const taken = { above: -Infinity, below: -Infinity };
  const labelled = all
    .filter(({ kind }) => marked.includes(kind))
    .map((bell) => {
      // A price says what it becomes, above its bell; the others say their time, below.
      const price = bell.kind === "price" ? priceAt(plan, bell.at, { sold: soldAt(sales, bell.at.getTime()) }) : undefined;
      const side = price ? "above" : "below";
      const text = price ? formatRoughly(price.minor, price.currency) : `${bellWords[bell.kind]} ${shortMoment(bell.at, plan.zone).slice(-5)}`;
      const half = text.length * 3.3;
      const middle = Math.min(width - 4 - half, Math.max(left + half, x(bell.at)));
      const free = middle - half > taken[side] + 6;
      if (free) taken[side] = middle + half;
      return { bell, text, middle, free, side };
    })
    // Where two ring at once, the doors' own bell is the one to see.
    .sort((a, b) => Number(a.bell.kind !== "price") - Number(b.bell.kind !== "price"));
  const rowEnds = Array.from({ length: lanes.rows }, () => -Infinity);
  const emails = all
    .filter(({ kind }) => kind === "email")
    .map((bell) => {
      const words = fitting(bell.label.replace(/^Email “|”$/g, ""), 190);
      const w = words.length * 6 + 18;
      const atLeft = x(bell.at) + w > width - 4;
      const start = atLeft ? x(bell.at) - w : x(bell.at) - 5;
      const free = rowEnds.findIndex((end) => start > end + 4);
      const row = free < 0 ? rowEnds.indexOf(Math.min(...rowEnds)) : free;
      const shown = free >= 0;
      rowEnds[row] = Math.max(rowEnds[row]!, atLeft ? x(bell.at) + 6 : start + (shown ? w : 10));
      return { bell, words: shown ? words : "", row, atLeft };
    });
  return (
    <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} aria-hidden="true" className={styles.svg}>
      <defs>
        <pattern id="closed-hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="6" height="6" fill="var(--paper)" />
          <rect width="1.6" height="6" fill="var(--hatch)" />
        </pattern>
      </defs>
      {windows.map(({ opens, closes }) => (
        <rect
          key={opens.getTime()}
          x={clampX(opens)}
          y={24}
          width={Math.max(0, clampX(closes) - clampX(opens))}
          height={lanes.bottom - 24}
          fill="var(--panel)"
        />
      ))}
      <TimeAxis x={x} ticks={axisTicks(from, to, plan.zone, width - left)} top={24} bottom={lanes.bottom} right={width - 40} />
      <Lane y={26} name="Bells" width={width} />
      <line x1={left} x2={width - 8} y1={60} y2={60} stroke="var(--ink)" />
      {labelled.map(({ bell, text, middle, free, side }) => (
        <g key={bell.key} data-bell={bell.key} color={bell.key === selected ? "var(--madder)" : "var(--bronze)"} className={styles.handle}>
          <rect x={x(bell.at) - 13} y={36} width={26} height={30} fill="transparent" />
          <BellMark kind={bell.kind} x={x(bell.at)} y={52} scale={1.5} />
          {free && (
            <text x={middle} y={side === "above" ? 37 : 80} textAnchor="middle" className={styles.bell}>
              {text}
            </text>
          )}
        </g>
      ))}
      <Lane y={lanes.pages} name="Pages" width={width} />
      {plan.pages.map((page, index) => {
        const top = lanes.pages + 6 + index * rowHeight;
        return (
          <g key={page.key}>
            <text x={left - 6} y={top + 11.5} textAnchor="end" className={styles.address}>
              /{fitting(page.slug, 96)}
            </text>
            {answerSpans(plan, who, page.slug, from, to, history).map((span) => {
              const { text, own, off } = answerWords(span.is, page);
              const [a, b] = [clampX(span.from), clampX(span.to)];
              const words = fitting(text, b - a);
              return (
                <g key={span.from.toISOString()}>
                  <rect
                    x={a}
                    y={top}
                    width={Math.max(1, b - a - 1.5)}
                    height={15}
                    fill={off ? "url(#closed-hatch)" : own ? "var(--ink)" : "var(--panel)"}
                    stroke={own || off ? "none" : "var(--ink)"}
                  />
                  {off && words && <rect x={a + 3} y={top + 1.5} width={words.length * 5.8 + 5} height={12} fill="var(--paper)" />}
                  <text x={a + 5} y={top + 11.5} className={styles.span} fill={own && !off ? "var(--on-ink)" : "var(--ink)"}>
                    {words}
                  </text>
                </g>
              );
            })}
          </g>
        );
      })}
      <Lane y={lanes.countdown} name="Countdown" width={width} />
      {countdownSpans(plan, who, from, to).map(({ from: a, to: b, is }) => {
        if (!is) return undefined;
        const room = clampX(b) - clampX(a);
        const look = is.stage?.look ?? "quiet";
        return (
          <g key={a.toISOString()}>
            <rect x={clampX(a)} y={lanes.countdown + 8} width={Math.max(1, room - 1)} height={16} fill={looks[look]} />
            <text x={clampX(a) + 5} y={lanes.countdown + 20} className={styles.span} fill={look === "quiet" ? "var(--bronze-ink)" : "var(--on-ink)"}>
              {fitting(is.stage?.words ?? (is.to === "opening" ? "to the opening" : "to the close"), room)}
            </text>
          </g>
        );
      })}
      <Lane y={lanes.price} name={plan.settings.seats === null ? "Price" : "Price, seats"} width={width} />
      {/* A launch that is being drafted may have no price yet. */}
      {plan.price.minor > 0 && <PriceLane plan={plan} windows={windows} sales={sales} x={clampX} top={lanes.price} from={from} to={to} now={now} />}
      {lanes.rows > 0 && (
        <>
          <Lane y={lanes.emails} name="Emails" width={width} />
          {emails.map(({ bell, words, row, atLeft }) => {
            const y = lanes.emails + 9 + row * 17;
            return (
              <g key={bell.key} data-bell={bell.key} className={styles.handle} color={bell.key === selected ? "var(--madder)" : "var(--ink)"}>
                <rect x={x(bell.at) - 8} y={y - 4} width={16} height={17} fill="transparent" />
                <rect
                  x={x(bell.at) - 4}
                  y={y}
                  width={8}
                  height={8}
                  fill={run.has(bell.key) ? "currentColor" : "var(--paper)"}
                  stroke="currentColor"
                  strokeWidth="1.4"
                />
                <text
                  x={x(bell.at) + (atLeft ? -9 : 9)}
                  y={y + 8.5}
                  textAnchor={atLeft ? "end" : "start"}
                  className={styles.span}
                  fill="currentColor"
                >
                  {words}
                </text>
              </g>
            );
          })}
        </>
      )}
      {sequences.length > 0 && <SequenceRows sequences={sequences} x={x} from={from} to={to} now={now} top={lanes.steps} width={width} />}
      {plan.featured.length > 0 && (
        <>
          <Lane y={lanes.partners} name="Partners" width={width} />
          {plan.featured.map(({ id, from: a, to: b, rateBp }) => {
            const room = clampX(b) - clampX(a);
            if (room <= 0) return undefined;
            return (
              <g key={id}>
                <rect x={clampX(a)} y={lanes.partners + 8} width={Math.max(1, room - 1)} height={16} fill="var(--woad)" />
                <text x={clampX(a) + 5} y={lanes.partners + 20} className={styles.span} fill="var(--on-ink)">
                  {room > 110 ? `${formatBasisPoints(rateBp)} for partners` : fitting(formatBasisPoints(rateBp), room + 8)}
                </text>
              </g>
            );
          })}
        </>
      )}
      {arrivals && (
        <>
          <Lane y={lanes.curve} name="Arrivals" width={width} />
          <text x={0} y={lanes.curve + 33} className={styles.laneName}>
            and orders
          </text>
          <ArrivalCurve curve={arrivals.curve} from={from} to={to} now={now} width={width} top={lanes.curve} bottom={lanes.bottom} />
          <text x={left + 8} y={lanes.curve + 16} className={styles.people}>
            {counted(arrivals.people, "person", "people")}
            <tspan className={styles.price} dx="14">
              {arrivals.orders}
            </tspan>
          </text>
        </>
      )}
      <line x1={0} x2={width} y1={lanes.bottom} y2={lanes.bottom} stroke="var(--ink)" />
      {now >= from.getTime() && now <= to.getTime() && (
        <g>
          <line x1={x(now)} x2={x(now)} y1={24} y2={lanes.bottom} stroke="var(--ink)" strokeWidth="1.2" strokeDasharray="2 3" />
          <text x={x(now) + 4} y={lanes.bottom - 6} className={styles.nowWord}>
            now
          </text>
        </g>
      )}
    </svg>
  );
});
ScoreLanes.displayName = "ScoreLanes";
