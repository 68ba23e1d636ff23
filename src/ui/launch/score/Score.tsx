import { personSeen } from "../../../contract/people";
import { sequenceLanes, type SentSpan } from "../../../core/emails";
import { useCallback, useEffect, useMemo, useState, type KeyboardEvent, type PointerEvent } from "react";
import {
  bells,
  counterBells,
  moveBell,
  viewerOfKind,
  phaseWords,
  planOf,
  seenAsWords,
  view,
  type Bell,
  type LaunchSource,
  type Viewer,
  type PersonKind,
  type SeenAs,
  soldAt,
  type SaleSteps,
} from "../../../core/launch";
import { fullMoment, shortMoment } from "../../../core/words";
import { showSeen, type Seen } from "../../kit/data/asSeen";
import { Button } from "../../kit/Button";
import { ChartTable } from "../../kit/charts/ChartTable";
import { useWidth } from "../../kit/charts/useWidth";
import { PersonFinder } from "../../kit/fields/PersonFinder";
import { call } from "../../kit/data/call";
import { useServerNow } from "../../kit/data/useServerNow";
import { say } from "../../kit/notices";
import { hourRows, hourWords, type Hour } from "./ArrivalCurve";
import { BellList } from "./BellList";
import { BellPane, type RungBell } from "./BellPane";
import { ChangeView } from "../ChangeView";
import { MovedClosing } from "../../emails/oneOff/MovedClosing";
import { Playhead } from "./Playhead";
import { laneHeights, ScoreLanes } from "./ScoreLanes";
import { SeenPane } from "./SeenPane";
import { scoreRange, timeScale, zooms, type Zoom } from "./timeAxis";
import { useChange } from "../useChange";
import styles from "./Score.module.css";

interface Props {
  source: LaunchSource;
  version: number;
  mayChange: boolean;
  /** A change was made before that can be brought back. */
  undoable: boolean;
  curve: Hour[];
  sales: SaleSteps;
  figures: { people: number; orders: string };
  run: RungBell[];
  /** What went of the steps of the launch's sequences. */
  steps: SentSpan[];
  now: number;
  seen: Seen;
  /** What the clock knows of a person looked up by name. */
  person?: NamedPerson;
}
/** A person looked up by name: what the clock knows of them, and from when their steps of each sequence are counted. */
interface NamedPerson extends Viewer {
  zone: string | null;
  moments: Readonly<Record<string, Date>>;
}

interface Drag {
  bell: Bell;
  to: number;
  moved: boolean;
}

/** The score: the launch on one timeline, with a playhead that says what every address answers at that instant, and bells that can be moved. */
export const Score = ({
  source: first,
  version,
  mayChange,
  undoable: wasUndoable,
  curve,
  sales,
  figures,
  run,
  steps,
  now: sentAt,
  seen: wanted,
  person: named,
}: Props) => {
  const [settings, setSettings] = useState(first.settings);
  const change = useChange(first.slug, version);
  const [busy, setBusy] = useState(false);
  const [undoable, setUndoable] = useState(wasUndoable);
  const source = useMemo(() => ({ ...first, settings }), [first, settings]);
  const shownSettings = change.proposal?.settings ?? settings;
  const plan = useMemo(() => planOf({ ...first, settings: shownSettings }), [first, shownSettings]);

  const now = useServerNow(sentAt);
  const minute = Math.floor(now / 60_000) * 60_000;
  const personal = plan.clock.kind === "personal";
  // A clock for each person rings for no one in particular: without a choice it is shown for who starts it now.
  const [seen, setSeen] = useState<Seen>(wanted);
  const as: SeenAs = useMemo(
    () => (personal && seen.as.kind === "everyone" ? { kind: "clock", since: new Date(Math.floor(sentAt / 60_000) * 60_000) } : seen.as),
    [personal, seen.as, sentAt],
  );
  const [known, setKnown] = useState<NamedPerson | undefined>(named);
  const at = new Date(seen.at ?? now);
  const who = useMemo(
    () => (as.kind === "person" ? (known ?? {}) : viewerOfKind(as, plan, new Date(seen.at?.getTime() ?? minute))),
    [as, known, plan, seen.at, minute],
  );
  useEffect(() => {
    if (as.kind !== "person" || known) return;
    void call(personSeen, { params: { slug: first.slug, id: as.id } }).then((answer) => {
      if (answer.ok && answer.value.person) setKnown(answer.value.person);
    });
  }, [as, known, first.slug]);

  const show = useCallback((next: Seen) => {
    setSeen(next);
    showSeen(next);
  }, []);

  const { ref, width } = useWidth(744, 620);
  const [zoom, setZoom] = useState<Zoom>(zooms[0]);
  // The picture keeps still while a change is only proposed.
  const keptPlan = useMemo(() => planOf(source), [source]);
  const whole = useMemo(() => scoreRange(keptPlan, who, sentAt), [keptPlan, who, sentAt]);
  const [centre, setCentre] = useState<number>();
  const [from, to] = useMemo((): [Date, Date] => {
    if (zoom.ms === undefined) return whole;
    const middle = centre ?? sentAt;
    return [new Date(middle - zoom.ms / 2), new Date(middle + zoom.ms / 2)];
  }, [zoom, whole, centre, sentAt]);
  const zoomTo = (next: Zoom) => {
    setCentre(seen.at?.getTime() ?? now);
    setZoom(next);
  };
  const zoomKeys = (event: KeyboardEvent<HTMLDivElement>) => {
    const step = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : undefined;
    if (!step) return;
    event.preventDefault();
    const next = (zooms.indexOf(zoom) + step + zooms.length) % zooms.length;
    zoomTo(zooms[next]!);
    event.currentTarget.querySelectorAll("button")[next]!.focus();
  };
  const pan = (direction: 1 | -1) => setCentre((centre ?? sentAt) + direction * (zoom.ms ?? 0) * 0.6);

  const place = (ms: number) => {
    const bounded = Math.min(whole[1].getTime(), Math.max(whole[0].getTime(), ms));
    // A playhead that leaves the picture takes it along.
    if (zoom.ms !== undefined && (bounded < from.getTime() || bounded > to.getTime())) setCentre(bounded);
    show({ ...seen, at: new Date(bounded) });
  };
  const span = useMemo(() => ({ from: whole[0], to: whole[1] }), [whole]);
  const rings = useMemo(() => {
    const counted = counterBells(plan, sales).filter((bell) => bell.at >= span.from && bell.at <= span.to);
    return [...bells(plan, who, span), ...counted].sort((a, b) => a.at.getTime() - b.at.getTime());
  }, [plan, who, span, sales]);
  const toBell = (direction: 1 | -1) => {
    const instants = rings.map((bell) => bell.at.getTime());
    const next = direction === 1 ? instants.find((ms) => ms > at.getTime()) : instants.findLast((ms) => ms < at.getTime());
    if (next !== undefined) place(next);
  };
  const [selectedKey, setSelected] = useState<string>();
  const [byKeys, setByKeys] = useState(false);
  const choose = (key: string, keys = false) => {
    setSelected(key);
    setByKeys(keys);
  };
  const selected = rings.find((bell) => bell.key === selectedKey);
  const keys = (event: KeyboardEvent) => {
    const direction = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : undefined;
    if (event.key === "Escape") return show({ as: seen.as, name: seen.name });
    if (event.key === "Enter") {
      const bell = rings.find((one) => one.at.getTime() === at.getTime());
      return bell ? choose(bell.key, true) : say("No bell rings at this instant. Alt and an arrow lead to one.");
    }
    if (!direction) return;
    event.preventDefault();
    if (event.altKey) return toBell(direction);
    const step = event.shiftKey ? 96 * 15 * 60_000 : zoom.step;
    place(Math.round(at.getTime() / zoom.step) * zoom.step + direction * step);
  };

  const [drag, setDrag] = useState<Drag>();
  const instantAt = (event: PointerEvent): number => {
    const x = event.clientX - ref.current!.getBoundingClientRect().left + ref.current!.scrollLeft;
    return Math.round(timeScale(from, to, width).invert(x).getTime() / zoom.step) * zoom.step;
  };
  const down = (event: PointerEvent<HTMLDivElement>) => {
    const key = event.target instanceof Element ? event.target.closest("[data-bell]")?.getAttribute("data-bell") : undefined;
    const bell = key ? rings.find((other) => other.key === key) : undefined;
    if (!bell) return place(instantAt(event));
    ref.current?.setPointerCapture(event.pointerId);
    setDrag({ bell, to: bell.at.getTime(), moved: false });
  };
  const moveTo = (event: PointerEvent<HTMLDivElement>) => {
    if (event.buttons !== 1) return;
    if (!drag) return place(instantAt(event));
    const there = instantAt(event);
    const far = Math.abs(timeScale(from, to, width)(there) - timeScale(from, to, width)(drag.bell.at)) > 4;
    if (mayChange && (drag.moved || far)) setDrag({ ...drag, to: there, moved: true });
  };
  const propose = async (bell: Bell, target: Date) => {
    const moved = moveBell(source, bell, target);
    if (!moved) return say("This bell follows from others and cannot be moved by itself.", true);
    const answer = await change.propose(moved, `${bell.label}: to ${shortMoment(target, plan.zone)}`);
    if (!answer.ok) say(Object.values(answer.fields)[0] ?? answer.message, true);
  };
  const up = () => {
    if (!drag) return;
    choose(drag.bell.key);
    if (drag.moved) void propose(drag.bell, new Date(drag.to));
    setDrag(undefined);
  };
  const apply = async () => {
    setBusy(true);
    const { settings: next, what } = change.proposal!;
    const answer = await change.apply();
    setBusy(false);
    if (!answer.ok) return say(Object.values(answer.fields)[0] ?? answer.message, true);
    setSettings(next);
    setUndoable(true);
    setSelected(undefined);
    say(`Changed. ${what}`);
  };
  const undo = async () => {
    const answer = await change.undo();
    if (!answer.ok) return say(answer.message, true);
    setSettings(answer.value.settings);
    setUndoable(false);
    say(`Undone: ${answer.value.what}`);
  };

  const hourNow = seen.at && hourWords(curve, seen.at.getTime(), plan.zone);
  const seenNow = view(plan, who, at, { sold: soldAt(sales, at.getTime()) });
  const rungKeys = useMemo(() => new Map(run.map((bell) => [bell.key, bell])), [run]);
  const rungSet = useMemo(() => new Set(rungKeys.keys()), [rungKeys]);
  const sequences = useMemo(() => {
    const since = as.kind === "clock" ? as.since : undefined;
    const reader =
      as.kind === "person"
        ? { moments: known?.moments ?? {}, zone: known?.zone ?? plan.zone }
        : since
          ? { moment: since, zone: plan.zone }
          : undefined;
    return sequenceLanes(plan.settings.sequences, steps, reader);
  }, [as, known, plan, steps]);
  const lanes = laneHeights(plan, sequences);
  const kinds: { kind: PersonKind | "everyone"; label: string }[] = [
    { kind: "new", label: "New visitor" },
    { kind: "subscriber", label: "Subscriber" },
    ...(personal ? [{ kind: "clock" as const, label: "Clock runs" }] : []),
    { kind: "begun", label: "At the checkout" },
    { kind: "buyer", label: "Buyer" },
  ];
  return (
    <div className={styles.score}>
      <div>
        <div className={styles.tools}>
          {/* One stop of the keyboard; arrows go from one to the next. */}
          <div className={styles.zoom} role="group" aria-label="Span of time" onKeyDown={zoomKeys}>
            {zooms.map((option) => (
              <button
                key={option.key}
                type="button"
                aria-pressed={zoom.key === option.key}
                tabIndex={zoom.key === option.key ? 0 : -1}
                onClick={() => zoomTo(option)}
              >
                {option.label}
              </button>
            ))}
          </div>
          {zoom.ms !== undefined && (
            <span className={styles.buttons}>
              <Button onClick={() => pan(-1)}>Earlier</Button>
              <Button onClick={() => pan(1)}>Later</Button>
            </span>
          )}
          {undoable && mayChange && <Button onClick={undo}>Undo the change</Button>}
          <span className={styles.links}>
            <a href={`/desk/${plan.slug}/clock`}>Set the clock</a>
            <a href={`/desk/${plan.slug}/bells.ics`}>Bells as a calendar</a>
          </span>
        </div>
        <div
          ref={ref}
          className={styles.lanes}
          role="slider"
          tabIndex={0}
          aria-label="Playhead"
          aria-valuemin={whole[0].getTime()}
          aria-valuemax={whole[1].getTime()}
          aria-valuenow={at.getTime()}
          aria-valuetext={`${fullMoment(at, plan.zone)}, ${phaseWords(plan, at, who)}${hourNow ? `; in the hour from ${hourNow}` : ""}`}
          onKeyDown={keys}
          onPointerDown={down}
          onPointerMove={moveTo}
          onPointerUp={up}
        >
          <ScoreLanes
            plan={plan}
            who={who}
            arrivals={{ curve, ...figures }}
            sales={sales}
            sequences={sequences}
            from={from}
            to={to}
            width={width}
            now={minute}
            run={rungSet}
            selected={selectedKey}
          />
          <Playhead
            at={seen.at?.getTime()}
            dragged={drag?.moved ? { kind: drag.bell.kind, to: drag.to } : undefined}
            zone={plan.zone}
            from={from}
            to={to}
            width={width}
            bottom={lanes.bottom}
            hour={hourNow}
          />
        </div>
        <p className={styles.keys}>
          <span>← → step · Shift day · Alt bell · Enter opens it · Esc now{mayChange ? " · drag a bell to move all that hangs on it" : ""}</span>
          <span className={styles.buttons}>
            <Button onClick={() => toBell(-1)}>Bell before</Button>
            <Button onClick={() => toBell(1)}>Bell after</Button>
            <Button onClick={() => show({ as: seen.as, name: seen.name })} disabled={seen.at === undefined}>
              Now
            </Button>
          </span>
        </p>
        <BellList
          bells={rings}
          zone={plan.zone}
          now={now}
          run={rungKeys}
          onChoose={(bell) => choose(bell.key, true)}
          onGo={(when) => place(when.getTime())}
        />
        {curve.length > 0 && (
          <ChartTable name="Arrivals and orders by the hour" columns={["Hour from", "Visits", "Orders"]} rows={hourRows(curve, plan.zone)} />
        )}
      </div>
      <div>
        {!change.proposal && <MovedClosing slug={source.slug} zone={plan.zone} mayChange={mayChange} version={change.version} />}
        {change.proposal && (
          <ChangeView
            what={change.proposal.what}
            summary={change.proposal.summary}
            zone={plan.zone}
            currency={plan.price.currency}
            busy={busy}
            onApply={apply}
            onLeave={() => {
              change.leave();
              setSelected(undefined);
            }}
          />
        )}
        {!change.proposal && selected && (
          <BellPane
            key={selected.key}
            plan={plan}
            bell={selected}
            run={rungKeys.get(selected.key)}
            mayMove={mayChange && moveBell(source, selected, selected.at) !== undefined}
            focused={byKeys}
            onMove={(target) => void propose(selected, target)}
            onClose={() => {
              setSelected(undefined);
              ref.current?.focus();
            }}
          />
        )}
        <SeenPane plan={plan} who={who} as={as} seen={seenNow} at={at} isNow={seen.at === undefined}>
          <div className={styles.who} role="group" aria-label="Seen by">
            {kinds.map(({ kind, label }) => (
              <button
                key={kind}
                type="button"
                aria-pressed={as.kind === kind || (kind === "new" && as.kind === "everyone")}
                onClick={() =>
                  show({ at: seen.at, as: { kind: kind as PersonKind, ...(kind === "new" || kind === "begun" ? {} : { since: new Date(minute) }) } })
                }
              >
                {label}
              </button>
            ))}
          </div>
          <details className={styles.finder}>
            <summary>
              {as.kind === "person" ? seenAsWords(as, seen.name) : "A person by name"}
              {"since" in as && as.since ? ` · since ${shortMoment(as.since, plan.zone)}` : ""}
            </summary>
            <PersonFinder
              slug={plan.slug}
              onFound={({ id, name }) => {
                setKnown(undefined);
                show({ at: seen.at, as: { kind: "person", id }, name });
              }}
            />
          </details>
        </SeenPane>
      </div>
    </div>
  );
};
