import { wallTimeOf, type EpisodeSetting, type LiveSetting, type UnlockSetting } from "../../../core/launch";
import { lengthWords } from "../../../core/words";
import { Button } from "../../kit/Button";
import { DateTimeField, TimeField } from "../../kit/fields/DateTimeField";
import { DurationField } from "../../kit/fields/DurationField";
import { Field } from "../../kit/fields/Field";
import { optionsOf, Select } from "../../kit/fields/Select";
import { changed, freshId, without, type ClockDraft } from "./clockDraft";
import styles from "./Clock.module.css";

const fresh: Record<UnlockSetting["on"], UnlockSetting> = {
  start: { on: "start" },
  bell: { on: "bell", bell: "opening", minutes: -1440 },
  opt_in: { on: "opt_in", days: 1, time: null },
};

/** When an episode opens, in words. */
const unlockWords = (unlock: UnlockSetting, personal: boolean): string => {
  if (unlock.on === "start") return "open from the start";
  if (unlock.on === "opt_in") {
    const day = unlock.days === 0 ? "at the opt-in" : unlock.days === 1 ? "the day after the opt-in" : `${unlock.days} days after the opt-in`;
    return unlock.time ? `${day}, at ${unlock.time}` : day;
  }
  const bell = { run_up: "the run-up begins", opening: personal ? "their clock starts" : "the doors open", closing: "the doors close" }[unlock.bell];
  return unlock.minutes === 0 ? `when ${bell}` : `${lengthWords(Math.abs(unlock.minutes))} ${unlock.minutes < 0 ? "before" : "after"} ${bell}`;
};

const replays: Record<LiveSetting["replay"], string> = {
  none: "no recording afterwards",
  opening: "recording until the doors open",
  closing: "recording until the doors close",
  always: "recording for good",
};

interface Item {
  draft: ClockDraft;
  episode: EpisodeSetting;
  index: number;
  set: (change: Partial<EpisodeSetting>) => void;
}

const Unlock = ({ draft, episode: { unlock }, index, set }: Item) => {
  const { clock } = draft.settings;
  const wrong = (field: string) => draft.wrong(`episodes.${index}.unlock${field}`);
  return (
    <div className={styles.four}>
      <Select
        label="Unlocks"
        value={unlock.on}
        wrong={wrong("")}
        options={optionsOf({ start: "from the start", bell: "by a bell", opt_in: "days after a person’s opt-in" })}
        onChange={(picked) => set({ unlock: fresh[picked] })}
      />
      {unlock.on === "bell" && (
        <>
          <Select
            label="Bell"
            value={unlock.bell}
            options={optionsOf({
              ...(clock.kind === "fixed" ? { run_up: "the run-up" } : {}),
              opening: clock.kind === "personal" ? "the start of their clock" : "the opening bell",
              closing: "the closing bell",
            })}
            onChange={(picked) => set({ unlock: { ...unlock, bell: picked } })}
          />
          <Select
            label="Before or after"
            value={unlock.minutes < 0 ? "before" : "after"}
            options={optionsOf({ before: "before it", after: "at it or after" })}
            onChange={(picked) => set({ unlock: { ...unlock, minutes: Math.abs(unlock.minutes || 1440) * (picked === "before" ? -1 : 1) } })}
          />
          <DurationField
            label="Offset"
            minutes={Math.abs(unlock.minutes)}
            wrong={wrong(".minutes")}
            onChange={(minutes) => set({ unlock: { ...unlock, minutes: unlock.minutes < 0 ? -minutes : minutes } })}
          />
        </>
      )}
      {unlock.on === "opt_in" && (
        <>
          <Field
            label="Days after the opt-in"
            type="number"
            min={0}
            value={Number.isNaN(unlock.days) ? "" : unlock.days}
            wrong={wrong(".days")}
            onChange={(event) => set({ unlock: { ...unlock, days: event.currentTarget.valueAsNumber } })}
          />
          <TimeField
            label="Time of day"
            value={unlock.time ?? ""}
            hint="Empty: the time of their opt-in."
            wrong={wrong(".time")}
            onChange={(time) => set({ unlock: { ...unlock, time: time || null } })}
          />
        </>
      )}
    </div>
  );
};

const Live = ({ draft, episode: { live }, index, set }: Item) => {
  if (!live) return null;
  const change = (next: Partial<LiveSetting>) => set({ live: { ...live, ...next } });
  const wrong = (field: string) => draft.wrong(`episodes.${index}.live.${field}`);
  return (
    <>
      <div className={styles.four}>
        <DateTimeField
          label="Begins"
          value={live.starts}
          zone={draft.zone}
          landmarks={draft.landmarks}
          wrong={wrong("starts")}
          onChange={(starts) => change({ starts })}
        />
        <DurationField
          label="Lasts"
          minutes={live.lengthMinutes}
          wrong={wrong("lengthMinutes")}
          onChange={(lengthMinutes) => change({ lengthMinutes })}
        />
        <DurationField
          label="Can be joined early, by"
          minutes={live.earlyMinutes}
          wrong={wrong("earlyMinutes")}
          onChange={(earlyMinutes) => change({ earlyMinutes })}
        />
        <Select label="Replay" value={live.replay} options={optionsOf(replays)} onChange={(picked) => change({ replay: picked })} />
      </div>
      <Field
        label="Address of the session"
        placeholder="https://"
        value={live.url}
        wrong={wrong("url")}
        hint="Shown to nobody before it can be joined, and only to those who have a place."
        onChange={(event) => change({ url: event.currentTarget.value })}
      />
    </>
  );
};

/** The run of episodes: which pages, in which order, and when each opens. */
export const EpisodeSection = ({ draft }: { draft: ClockDraft }) => {
  const { episodes, clock } = draft.settings;
  const content = draft.pages.filter(({ kind }) => kind === "content");
  const free = content.filter(({ key }) => !episodes.some(({ page }) => page === key));
  const title = (key: string) => draft.pages.find((page) => page.key === key)?.title || key;
  const start = clock.kind === "fixed" ? clock.opens : wallTimeOf(new Date(draft.now), draft.zone);
  return (
    <section className={styles.section} aria-labelledby="episodes">
      <h2 id="episodes">Episodes</h2>
      <p className="muted">
        Pages that open one by one. A locked one is not sent to anybody: its address shows the newest open one before it and says when the other
        opens. The last leads to the sales page.
      </p>
      {episodes.map((episode, index) => {
        const set = (change: Partial<EpisodeSetting>) => draft.set({ episodes: changed(episodes, index, change) });
        const item = { draft, episode, index, set };
        return (
          <details key={episode.id} className={styles.item} open={draft.wrong(`episodes.${index}.page`) !== undefined || undefined}>
            <summary>
              {index + 1}. {title(episode.page)} · {episode.live ? "live, " : ""}
              {unlockWords(episode.unlock, clock.kind === "personal")}
            </summary>
            <div className={styles.two}>
              <Select
                label="Page"
                value={episode.page}
                wrong={draft.wrong(`episodes.${index}.page`)}
                options={content.map(({ key }) => ({ value: key, label: title(key) }))}
                onChange={(picked) => set({ page: picked })}
              />
              <Select
                label="Type"
                value={episode.live ? "live" : "page"}
                options={optionsOf({ page: "a page to watch or read", live: "a live session" })}
                onChange={(picked) =>
                  set({
                    live: picked === "live" ? { starts: start, lengthMinutes: 60, earlyMinutes: 15, url: "https://", replay: "closing" } : null,
                  })
                }
              />
            </div>
            <Unlock {...item} />
            <Live {...item} />
            <p className={styles.actions}>
              {index > 0 && (
                <Button onClick={() => draft.set({ episodes: episodes.with(index - 1, episode).with(index, episodes[index - 1]!) })}>
                  One place earlier
                </Button>
              )}
              <button type="button" className={styles.remove} onClick={() => draft.set({ episodes: without(episodes, index) })}>
                Remove from the run
              </button>
            </p>
          </details>
        );
      })}
      <p className={styles.actions}>
        <Button
          disabled={free.length === 0}
          onClick={() =>
            draft.set({ episodes: [...episodes, { id: freshId(episodes, "episode"), page: free[0]!.key, unlock: fresh.bell, live: null }] })
          }
        >
          Add an episode
        </Button>
        {free.length === 0 && (
          <span className="muted">{content.length === 0 ? "The launch has no page of content yet." : "Every page of content is in the run."}</span>
        )}
      </p>
    </section>
  );
};
