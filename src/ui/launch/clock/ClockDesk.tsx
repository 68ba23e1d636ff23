import { faultSentences, faultsOf } from "../../../core/words";
import { useCallback, useMemo, useState } from "react";
import { bells, launchSettings, planOf, settingFaults, type BellKind, type LaunchSettings, type LaunchSource } from "../../../core/launch";
import { Button } from "../../kit/Button";
import { useKeptDraft } from "../../kit/data/useKeptDraft";
import { useServerNow } from "../../kit/data/useServerNow";
import { useReady } from "../../kit/data/useReady";
import { say } from "../../kit/notices";
import { ChangeView } from "../ChangeView";
import type { ClockDraft } from "./clockDraft";
import { CopySection } from "./CopySection";
import { CountdownSection } from "./CountdownSection";
import { DeadlineSection } from "./DeadlineSection";
import { EpisodeSection } from "./EpisodeSection";
import { FeaturedSection } from "./FeaturedSection";
import { GateSection } from "./GateSection";
import { EmailSection } from "./EmailSection";
import { OutsideSection } from "./OutsideSection";
import { PriceSection } from "./PriceSection";
import { StopSection } from "./StopSection";
import { useChange } from "../useChange";
import styles from "./Clock.module.css";

interface Props {
  source: LaunchSource;
  version: number;
  mayChange: boolean;
  undoable: boolean;
  now: number;
  products: { id: string; name: string }[];
  others: { id: string; name: string }[];
  origin: string;
  calendar: string;
}

/** What is wrong with a draft, by field: first its shape, then how it fits the launch. */
const check = (source: LaunchSource, draft: LaunchSettings): Record<string, string> => {
  const read = launchSettings.safeParse(draft);
  return faultSentences(read.success ? settingFaults({ ...source, settings: draft }) : faultsOf(read.error));
};

// Bells that a typed moment is measured against: those that people wait for.
const isLandmark: ReadonlySet<BellKind> = new Set(["run_up", "opening", "closing", "price"]);

const sections = [
  ["deadline", "Deadline"],
  ["gates", "Gates"],
  ["episodes", "Episodes"],
  ["countdowns", "Countdowns"],
  ["price", "Price and seats"],
  ["emails", "Emails"],
  ["featured", "Featured days for partners"],
  ["stops", "Stopping for one person"],
  ["outside", "On other sites"],
  ["copy", "Do it again"],
  ["archive", "Archive it"],
] as const;

/** Everything about the time of a launch in one place. A change shows what it does, in numbers, before it is made; the one before can be brought back. */
export const ClockDesk = ({ source: first, version, mayChange, undoable: wasUndoable, now: sentAt, products, others, origin, calendar }: Props) => {
  const [kept, setKept] = useState(first.settings);
  const [draft, setDraft] = useState(first.settings);
  const [fromServer, setFromServer] = useState<Record<string, string>>({});
  const ready = useReady();
  const [busy, setBusy] = useState(false);
  const [undoable, setUndoable] = useState(wasUndoable);
  const change = useChange(first.slug, version);
  const restore = useCallback(
    (left: unknown, overtaken: boolean) => {
      const read = launchSettings.safeParse(left);
      if (!read.success || JSON.stringify(read.data) === JSON.stringify(first.settings)) return;
      setDraft(read.data);
      say(
        overtaken
          ? "What you changed here before is back. The clock was set anew since then: look at what this would change."
          : "What you changed here before is back. It is not made yet.",
      );
    },
    [first.settings, say],
  );
  const now = Math.floor(useServerNow(sentAt) / 60_000) * 60_000;
  const dirty = JSON.stringify(kept) !== JSON.stringify(draft);
  useKeptDraft(`clock:${first.slug}`, change.version, mayChange && dirty ? draft : undefined, restore);
  const errors = { ...fromServer, ...(dirty ? check(first, draft) : {}) };
  const landmarks = useMemo(() => bells(planOf({ ...first, settings: kept })).filter(({ kind }) => isLandmark.has(kind)), [first, kept]);
  const shared: ClockDraft = {
    settings: draft,
    pages: first.pages,
    zone: first.zone,
    now,
    landmarks,
    currency: first.price.currency,
    set: (part) => {
      setFromServer({});
      change.leave();
      setDraft((before) => ({ ...before, ...part }));
    },
    wrong: (path) => errors[path],
  };
  const propose = async () => {
    setBusy(true);
    const answer = await change.propose(draft, "Clock set anew");
    setBusy(false);
    if (answer.ok) return;
    setFromServer(Object.fromEntries(Object.entries(answer.fields).map(([path, sentence]) => [path.replace(/^settings\./, ""), sentence])));
    say(answer.message, true);
  };
  const apply = async () => {
    setBusy(true);
    const answer = await change.apply();
    setBusy(false);
    if (!answer.ok) return say(answer.message, true);
    setKept(draft);
    setUndoable(true);
    say("Changed. Every page, email and picture shows it from now on.");
  };
  const undo = async () => {
    const answer = await change.undo();
    if (!answer.ok) return say(answer.message, true);
    setKept(answer.value.settings);
    setDraft(answer.value.settings);
    setUndoable(false);
    say(`Undone: ${answer.value.what}`);
  };
  const objections = Object.values(errors).length;
  return (
    <div className={styles.clock} inert={!ready}>
      <div>
        <DeadlineSection draft={shared} />
        <GateSection draft={shared} />
        <EpisodeSection draft={shared} />
        <CountdownSection draft={shared} />
        <PriceSection key={JSON.stringify(kept.prices)} draft={shared} price={first.price.minor} />
        <EmailSection draft={shared} />
        <FeaturedSection draft={shared} />
        <StopSection draft={shared} products={products} others={others} />
        <OutsideSection
          slug={first.slug}
          origin={origin}
          calendar={calendar}
          byNotice={kept.clock.kind === "personal" && kept.clock.trigger.on === "webhook"}
          mayChange={mayChange}
        />
        {mayChange && <CopySection slug={first.slug} name={first.name} zone={first.zone} personal={kept.clock.kind === "personal"} />}
      </div>
      <div className={styles.side}>
        {change.proposal && (
          <ChangeView
            what="The clock set anew"
            summary={change.proposal.summary}
            zone={first.zone}
            currency={first.price.currency}
            busy={busy}
            onApply={apply}
            onLeave={change.leave}
          />
        )}
        {dirty && !change.proposal && (
          <section className={styles.dirty} aria-label="Not made yet">
            <h3>Changed here, not made yet</h3>
            {objections > 0 && (
              <p role="alert">
                {objections === 1 ? "One field needs" : `${objections} fields need`} another look: {Object.values(errors)[0]}
              </p>
            )}
            <p className={styles.actions}>
              <Button main disabled={busy || objections > 0 || !mayChange} onClick={() => void propose()}>
                See what that changes
              </Button>
              <Button
                onClick={() => {
                  setDraft(kept);
                  setFromServer({});
                }}
              >
                Back to what holds
              </Button>
            </p>
            {!mayChange && <p className="muted">You may look and try here; changing needs an owner or editor.</p>}
          </section>
        )}
        {undoable && !dirty && mayChange && (
          <p className={styles.actions}>
            <Button onClick={() => void undo()}>Undo the newest change</Button>
          </p>
        )}
        <nav aria-label="On this screen">
          <ul>
            {sections
              .filter(([id]) => mayChange || (id !== "copy" && id !== "archive"))
              .map(([id, label]) => (
                <li key={id}>
                  <a href={`#${id}`}>{label}</a>
                </li>
              ))}
          </ul>
        </nav>
      </div>
    </div>
  );
};
