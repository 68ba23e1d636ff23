import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { bells, fullMoment, phaseWords, shortMoment, view, zoneCity, type LaunchPlan, type Onlooker } from "../../core/launch";
import { tellAsSeen } from "../kit/asSeen";
import { Button } from "../kit/Button";
import { useServerNow } from "../kit/useServerNow";
import { SeenPane } from "./SeenPane";
import { ScoreLanes, scoreRange, timeScale, type Hour } from "./ScoreLanes";
import styles from "./Score.module.css";

interface Props {
  /** The plan as JSON: instants are ISO strings until they are revived here. */
  plan: string;
  curve: Hour[];
  figures: { people: number; orders: string };
  now: number;
  at?: number;
}

/** A plan that came as JSON, with its instants as dates again. */
export const revivePlan = (json: string): LaunchPlan => {
  const raw = JSON.parse(json) as LaunchPlan;
  return { ...raw, runUpFrom: new Date(raw.runUpFrom), window: { opens: new Date(raw.window.opens), closes: new Date(raw.window.closes) } };
};

type Person = "new" | "begun" | "buyer";
const personWords: Record<Person, string> = { new: "a new visitor", begun: "someone at the checkout", buyer: "a buyer" };

const onlookerOf = (person: Person, plan: LaunchPlan, at: Date): Onlooker => {
  if (person === "buyer") return { hasOrder: true };
  if (person === "new") return {};
  // A checkout begun a minute ago, or in the last minute before the bell.
  return { checkoutBegunAt: new Date(Math.min(at.getTime(), plan.window.closes.getTime()) - 60_000) };
};

const useWidth = (fallback: number) => {
  const ref = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(fallback);
  useEffect(() => {
    if (!ref.current) return;
    const watcher = new ResizeObserver(([entry]) => entry && setWidth(Math.max(620, entry.contentRect.width)));
    watcher.observe(ref.current);
    return () => watcher.disconnect();
  }, []);
  return { ref, width };
};

const quarter = 15 * 60_000;

/** The score: the launch on one timeline, with a playhead that says what every address answers at that instant. */
export const Score = ({ plan: json, curve, figures, now: sentAt, at: wanted }: Props) => {
  const plan = useMemo(() => revivePlan(json), [json]);
  const now = useServerNow(sentAt);
  const [chosen, setChosen] = useState<number | undefined>(wanted);
  const [person, setPerson] = useState<Person>("new");
  const { ref, width } = useWidth(744);
  const [from, to] = useMemo(() => scoreRange(plan, sentAt), [plan, sentAt]);
  const at = new Date(chosen ?? now);

  useEffect(() => {
    const address = new URL(location.href);
    if (chosen === undefined) address.searchParams.delete("at");
    else address.searchParams.set("at", new Date(chosen).toISOString());
    history.replaceState(undefined, "", address);
    const elsewhere = chosen !== undefined || person !== "new";
    tellAsSeen(
      elsewhere ? { at: at.getTime(), words: `${shortMoment(at, plan.zone)} ${zoneCity(plan.zone)}`, person: personWords[person] } : undefined,
    );
    // `at` follows from what is listed, and the running clock must not write the address each second.
  }, [chosen, person, plan]);

  const place = (ms: number) => setChosen(Math.min(to.getTime(), Math.max(from.getTime(), ms)));
  const toBell = (direction: 1 | -1) => {
    const instants = bells(plan).map((bell) => bell.at.getTime());
    const next = direction === 1 ? instants.find((ms) => ms > at.getTime()) : instants.findLast((ms) => ms < at.getTime());
    if (next !== undefined) place(next);
  };
  const keys = (event: KeyboardEvent) => {
    const direction = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : undefined;
    if (event.key === "Escape") return setChosen(undefined);
    if (!direction) return;
    event.preventDefault();
    if (event.altKey) return toBell(direction);
    const step = event.shiftKey ? 24 * 4 * quarter : quarter;
    place(Math.round(at.getTime() / quarter) * quarter + direction * step);
  };
  const drag = (event: PointerEvent<HTMLDivElement>) => {
    if (event.buttons !== 1 || !ref.current) return;
    const x = event.clientX - ref.current.getBoundingClientRect().left + ref.current.scrollLeft;
    place(Math.round(timeScale(from, to, width).invert(x).getTime() / quarter) * quarter);
  };
  const seen = view(plan, onlookerOf(person, plan, at), at);
  return (
    <div className={styles.score}>
      <div>
        <div
          ref={ref}
          className={styles.lanes}
          role="slider"
          tabIndex={0}
          aria-label="Playhead"
          aria-valuemin={from.getTime()}
          aria-valuemax={to.getTime()}
          aria-valuenow={at.getTime()}
          aria-valuetext={`${fullMoment(at, plan.zone)}, ${phaseWords(plan, at)}`}
          onKeyDown={keys}
          onPointerDown={drag}
          onPointerMove={drag}
        >
          <ScoreLanes plan={plan} curve={curve} figures={figures} from={from} to={to} width={width} now={now} playhead={chosen} />
        </div>
        <p className={styles.keys}>
          <span>← → a quarter of an hour · Shift a day · Alt bell to bell · Escape back to now</span>
          <span className={styles.buttons}>
            <Button onClick={() => toBell(-1)}>Bell before</Button>
            <Button onClick={() => toBell(1)}>Bell after</Button>
            <Button onClick={() => setChosen(undefined)} disabled={chosen === undefined}>
              Now
            </Button>
          </span>
        </p>
      </div>
      <SeenPane plan={plan} seen={seen} at={at} isNow={chosen === undefined}>
        <div className={styles.who} role="group" aria-label="Seen by">
          {(["new", "begun", "buyer"] as const).map((kind) => (
            <button key={kind} type="button" aria-pressed={person === kind} onClick={() => setPerson(kind)}>
              {{ new: "New visitor", begun: "At the checkout", buyer: "Buyer" }[kind]}
            </button>
          ))}
        </div>
      </SeenPane>
    </div>
  );
};
