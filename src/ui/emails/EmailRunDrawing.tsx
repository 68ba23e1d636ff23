import { max, scaleLinear, scaleUtc } from "d3";
import type { DatedEmail, EmailRun, SequenceLane } from "../../core/emails";
import { counted, shortMoment } from "../../core/words";
import { BellMark } from "../kit/BellGlyph";
import { TimeAxis } from "../kit/charts/axes";
import { axisTicks } from "../kit/charts/timeTicks";
import { useWidth } from "../kit/charts/useWidth";
import styles from "./emails.module.css";

interface Props {
  run: EmailRun;
  /** What the emails are called. */
  subject: (id: string) => string;
  zone: string;
  /** The instant that the screen shows; undefined where the run is of a clock of nobody's. */
  now: Date | undefined;
  /** How many of each were sent. */
  sent: ReadonlyMap<string, number>;
  lanes: readonly SequenceLane[];
  chosen: string | undefined;
  onChoose: (id: string) => void;
}

const left = 116;
const sixHours = 6 * 3_600_000;
const [bellLine, emailLine] = [44, 140];
const tallest = 62;
const laneHeight = 46;
/** How tall the most that went of sequences in six hours is drawn. */
const tallestBar = 24;

/** The span of a run: from its first instant to its last, with some air. */
const spanOf = ({ window, emails }: EmailRun, lanes: readonly SequenceLane[]): [Date, Date] => {
  const marks = lanes.flatMap((lane) => lane.marks ?? []);
  const all = [window!.opens, window!.closes, ...[...emails, ...marks].map(({ at }) => at)].map((at) => at.getTime());
  const [from, to] = [Math.min(...all), Math.max(...all)];
  const air = Math.max(1_800_000, (to - from) * 0.04);
  return [new Date(from - air), new Date(to + air)];
};

/** A lane's name as far as it fits. */
const fitted = (name: string): string => (name.length <= 17 ? name : `${name.slice(0, 16)}…`);

interface MarkProps {
  x: number;
  y: number;
  went: boolean;
  chosen: boolean;
  says: string;
  onChoose: () => void;
}

/** An email on its line: full where its instant is over. */
const Mark = ({ x, y, went, chosen, says, onChoose }: MarkProps) => (
  <g transform={`translate(${x} ${y})`} onClick={onChoose} className={styles.mark}>
    <title>{says}</title>
    <rect x={-12} y={-20} width={24} height={40} fill="transparent" />
    <rect
      x={-5.5}
      y={-5.5}
      width={11}
      height={11}
      fill={went ? "var(--ink)" : "var(--panel)"}
      stroke={chosen ? "var(--bronze)" : "var(--ink)"}
      strokeWidth={chosen ? 3.5 : 1.6}
    />
  </g>
);

/**
 * A launch's emails along its bells: those that went are full and as tall as many were sent, those to come are hollow. Below them its sequences: what
 * went of each as time passed, or its steps for one person.
 */
export const EmailRunDrawing = ({ run, subject, zone, now, sent, lanes, chosen, onChoose }: Props) => {
  const { ref, width } = useWidth(720, 560);
  if (!run.window) return null;
  const { opens, closes } = run.window;
  const [from, to] = spanOf(run, lanes);
  const x = scaleUtc([from, to], [left, width - 10]);
  const height = scaleLinear([0, Math.max(1, max(sent.values()) ?? 0)], [0, tallest]);
  const barHeight = scaleLinear([0, Math.max(1, max(lanes, ({ sent: spans }) => max(spans, (span) => span.sent)) ?? 0)], [0, tallestBar]);
  const barWidth = Math.max(2, x(new Date(from.getTime() + sixHours)) - x(from) - 1.5);
  const bottom = emailLine + lanes.length * laneHeight + 12;
  const wentBy = (at: Date): boolean => now !== undefined && at <= now;
  const words = ({ email, at }: DatedEmail): string =>
    `${subject(email.id)}, ${shortMoment(at, zone)}${wentBy(at) ? `, ${counted(sent.get(email.id) ?? 0, "email", "emails")} sent` : ""}`;
  return (
    <div ref={ref} className={styles.drawing} tabIndex={0} role="region" aria-label="Emails along the bells">
      <svg width={width} height={bottom + 8} role="img" aria-label={`${counted(run.emails.length, "email", "emails")} along the bells`}>
        <TimeAxis x={x} ticks={axisTicks(from, to, zone, width - left)} top={18} bottom={bottom} right={width} />
        <rect x={x(opens)} width={Math.max(1, x(closes) - x(opens))} y={20} height={bottom - 20} className={styles.open} />
        <text x={0} y={bellLine + 4} className={styles.lane}>
          Bells
        </text>
        <line x1={0} x2={width} y1={bellLine + 8} y2={bellLine + 8} stroke="var(--ink-2)" />
        <g color="var(--bronze)">
          <BellMark kind="opening" x={x(opens)} y={bellLine} scale={1.3} />
          <BellMark kind="closing" x={x(closes)} y={bellLine} scale={1.3} />
        </g>
        <text x={0} y={emailLine - 18} className={styles.lane}>
          Emails
        </text>
        <text x={0} y={emailLine - 4} className={styles.note}>
          {now ? "stems: sent" : "for each person"}
        </text>
        <line x1={0} x2={width} y1={emailLine} y2={emailLine} stroke="var(--ink-2)" />
        {lanes.map(({ id, name, marks, sent: spans }, index) => {
          const y = emailLine + (index + 1) * laneHeight;
          return (
            <g key={id}>
              <line x1={0} x2={width} y1={y} y2={y} stroke="var(--ink-2)" />
              <g className={styles.mark} onClick={() => onChoose(id)}>
                <rect x={0} y={y - laneHeight + 6} width={left - 8} height={laneHeight - 6} fill="transparent" />
                <text x={0} y={y - 18} className={styles.lane}>
                  {fitted(name)}
                </text>
                <text x={0} y={y - 4} className={styles.note}>
                  {!marks ? "bars: sent in 6 h" : marks.length > 0 ? "their steps" : "not in it"}
                </text>
              </g>
              {spans
                .filter(({ at }) => at >= from && at < to)
                .map(({ at, sent: n }) => (
                  <rect key={at.getTime()} x={x(at)} width={barWidth} y={y - barHeight(n)} height={barHeight(n)} fill="var(--woad)">
                    <title>{`${name}, ${shortMoment(at, zone)} and 6 hours: ${counted(n, "email", "emails")} sent`}</title>
                  </rect>
                ))}
              {marks?.map(({ step, at }) => (
                <Mark
                  key={step}
                  x={x(at)}
                  y={y}
                  went={wentBy(at)}
                  chosen={step === chosen}
                  says={`${subject(step)}, ${shortMoment(at, zone)}`}
                  onChoose={() => onChoose(step)}
                />
              ))}
            </g>
          );
        })}
        {run.emails.map((one) => {
          const { email, at } = one;
          const went = wentBy(at);
          const stem = went ? height(sent.get(email.id) ?? 0) : 0;
          return (
            <g key={email.id}>
              {stem > 0 && <rect x={x(at) - 1.5} width={3} y={emailLine - stem - 5} height={stem} fill="var(--verdigris)" />}
              <Mark x={x(at)} y={emailLine} went={went} chosen={email.id === chosen} says={words(one)} onChoose={() => onChoose(email.id)} />
            </g>
          );
        })}
        {now && now > from && now < to && (
          <g className={styles.present}>
            <line x1={x(now)} x2={x(now)} y1={18} y2={bottom} stroke="var(--ink)" strokeDasharray="2 3" />
            <text x={x(now) + 4} y={30} className={styles.now}>
              now
            </text>
          </g>
        )}
      </svg>
    </div>
  );
};
