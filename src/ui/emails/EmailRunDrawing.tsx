import { max, scaleLinear, scaleUtc } from "d3";
import type { DatedEmail, EmailRun } from "../../core/emails";
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
  chosen: string | undefined;
  onChoose: (id: string) => void;
}

const left = 92;
const [bellLine, emailLine, bottom] = [44, 140, 152];
const tallest = 62;

/** The span of a run: from its first instant to its last, with some air. */
const spanOf = ({ window, emails }: EmailRun): [Date, Date] => {
  const all = [window!.opens, window!.closes, ...emails.map(({ at }) => at)].map((at) => at.getTime());
  const [from, to] = [Math.min(...all), Math.max(...all)];
  const air = Math.max(1_800_000, (to - from) * 0.04);
  return [new Date(from - air), new Date(to + air)];
};

/** A launch's emails along its bells: those that went are full and as tall as many were sent, those to come are hollow. */
export const EmailRunDrawing = ({ run, subject, zone, now, sent, chosen, onChoose }: Props) => {
  const { ref, width } = useWidth(720, 560);
  if (!run.window) return null;
  const { opens, closes } = run.window;
  const [from, to] = spanOf(run);
  const x = scaleUtc([from, to], [left, width - 10]);
  const height = scaleLinear([0, Math.max(1, max(sent.values()) ?? 0)], [0, tallest]);
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
        {run.emails.map((one) => {
          const { email, at } = one;
          const went = wentBy(at);
          const stem = went ? height(sent.get(email.id) ?? 0) : 0;
          return (
            <g key={email.id} transform={`translate(${x(at)} ${emailLine})`} onClick={() => onChoose(email.id)} className={styles.mark}>
              <title>{words(one)}</title>
              {stem > 0 && <rect x={-1.5} width={3} y={-stem - 5} height={stem} fill="var(--verdigris)" />}
              <rect x={-12} y={-24} width={24} height={48} fill="transparent" />
              <rect
                x={-5.5}
                y={-5.5}
                width={11}
                height={11}
                fill={went ? "var(--ink)" : "var(--panel)"}
                stroke={email.id === chosen ? "var(--bronze)" : "var(--ink)"}
                strokeWidth={email.id === chosen ? 3.5 : 1.6}
              />
            </g>
          );
        })}
        {now && now > from && now < to && (
          <g>
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
