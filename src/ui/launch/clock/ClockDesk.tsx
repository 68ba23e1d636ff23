import { useMemo } from "react";
import { bells, planOf, type BellKind, type LaunchSource } from "../../../core/launch";
import { useServerNow } from "../../kit/data/useServerNow";
import { useReady } from "../../kit/data/useReady";
import type { ClockDraft } from "./clockDraft";
import { CopySection } from "./CopySection";
import { CountdownSection } from "./CountdownSection";
import { DeadlineSection } from "./DeadlineSection";
import { EpisodeSection } from "./EpisodeSection";
import { FeaturedSection } from "./FeaturedSection";
import { GateSection } from "./GateSection";
import { MovedClosing } from "../../emails/oneOff/MovedClosing";
import { OutsideSection } from "./OutsideSection";
import { PriceSection } from "./PriceSection";
import { StopSection } from "./StopSection";
import { DraftActions } from "../DraftActions";
import { useSettingsDraft } from "../useSettingsDraft";
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

// Bells that a typed moment is measured against: those that people wait for.
const isLandmark: ReadonlySet<BellKind> = new Set(["run_up", "opening", "closing", "price"]);

const sections = [
  ["deadline", "Deadline"],
  ["gates", "Gates"],
  ["episodes", "Episodes"],
  ["countdowns", "Countdowns"],
  ["price", "Price and seats"],
  ["featured", "Featured days for partners"],
  ["stops", "Stopping for one person"],
  ["outside", "On other sites"],
  ["copy", "Do it again"],
  ["archive", "Archive it"],
] as const;

/** Everything about the time of a launch in one place. A change shows what it does, in numbers, before it is made; the one before can be brought back. */
export const ClockDesk = ({ source: first, version, mayChange, undoable, now: sentAt, products, others, origin, calendar }: Props) => {
  const ready = useReady();
  const edited = useSettingsDraft({ source: first, version, mayChange, undoable, keptAs: "clock", what: "Clock set anew" });
  const { kept, draft } = edited;
  const now = Math.floor(useServerNow(sentAt) / 60_000) * 60_000;
  const landmarks = useMemo(() => bells(planOf({ ...first, settings: kept })).filter(({ kind }) => isLandmark.has(kind)), [first, kept]);
  const shared: ClockDraft = {
    settings: draft,
    pages: first.pages,
    zone: first.zone,
    now,
    landmarks,
    currency: first.price.currency,
    set: edited.set,
    wrong: (path) => edited.errors[path],
  };
  return (
    <div className={styles.clock} inert={!ready}>
      <div>
        <MovedClosing slug={first.slug} zone={first.zone} mayChange={mayChange} version={edited.version} />
        <DeadlineSection draft={shared} />
        <GateSection draft={shared} />
        <EpisodeSection draft={shared} />
        <CountdownSection draft={shared} />
        <PriceSection key={JSON.stringify(kept.prices)} draft={shared} price={first.price.minor} />
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
        <DraftActions draft={edited} title="The clock set anew" zone={first.zone} currency={first.price.currency} mayChange={mayChange} />
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
