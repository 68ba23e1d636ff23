import { useCallback, useState } from "react";
import { launchSettings, settingFaults, type LaunchSettings, type LaunchSource } from "../../core/launch";
import { faultSentences, faultsOf } from "../../core/words";
import { useKeptDraft } from "../kit/data/useKeptDraft";
import { say } from "../kit/notices";
import { useChange } from "./useChange";

/** What is wrong with a draft, by field: first its shape, then how it fits the launch. */
const check = (source: LaunchSource, draft: LaunchSettings): Record<string, string> => {
  const read = launchSettings.safeParse(draft);
  return faultSentences(read.success ? settingFaults({ ...source, settings: draft }) : faultsOf(read.error));
};

interface Options {
  source: LaunchSource;
  version: number;
  mayChange: boolean;
  undoable: boolean;
  /** Where the draft is kept in this browser until it is made. */
  keptAs: string;
  /** What the change is called in the launch's history. */
  what: string;
}

/**
 * A launch's settings as they are changed on a screen: what is typed is checked at once and kept in this browser, shown with what it would do before
 * it is made, and the newest change can be brought back.
 */
export const useSettingsDraft = ({ source, version, mayChange, undoable: wasUndoable, keptAs, what }: Options) => {
  const [kept, setKept] = useState(source.settings);
  const [draft, setDraft] = useState(source.settings);
  const [fromServer, setFromServer] = useState<Record<string, string>>({});
  const [busy, setBusy] = useState(false);
  const [undoable, setUndoable] = useState(wasUndoable);
  const change = useChange(source.slug, version);
  const restore = useCallback(
    (left: unknown, overtaken: boolean) => {
      const read = launchSettings.safeParse(left);
      if (!read.success || JSON.stringify(read.data) === JSON.stringify(source.settings)) return;
      setDraft(read.data);
      say(
        overtaken
          ? "What you changed here before is back. The launch was changed since then: look at what this would change."
          : "What you changed here before is back. It is not made yet.",
      );
    },
    [source.settings],
  );
  const dirty = JSON.stringify(kept) !== JSON.stringify(draft);
  useKeptDraft(`${keptAs}:${source.slug}`, change.version, mayChange && dirty ? draft : undefined, restore);
  const errors = { ...fromServer, ...(dirty ? check(source, draft) : {}) };
  return {
    /** The settings as they hold, and as they are typed. */
    kept,
    draft,
    dirty,
    /** The version of the launch that holds. */
    version: change.version,
    busy,
    undoable: undoable && mayChange,
    errors,
    proposal: change.proposal,
    leave: change.leave,
    set: (part: Partial<LaunchSettings>) => {
      setFromServer({});
      change.leave();
      setDraft((before) => ({ ...before, ...part }));
    },
    /** Back to what holds. */
    reset: () => {
      setDraft(kept);
      setFromServer({});
    },
    async propose() {
      setBusy(true);
      const answer = await change.propose(draft, what);
      setBusy(false);
      if (answer.ok) return;
      setFromServer(Object.fromEntries(Object.entries(answer.fields).map(([path, sentence]) => [path.replace(/^settings\./, ""), sentence])));
      say(answer.message, true);
    },
    async apply() {
      setBusy(true);
      const answer = await change.apply();
      setBusy(false);
      if (!answer.ok) return say(answer.message, true);
      setKept(draft);
      setUndoable(true);
      say("Changed. Every page, email and picture shows it from now on.");
    },
    async undo() {
      const answer = await change.undo();
      if (!answer.ok) return say(answer.message, true);
      setKept(answer.value.settings);
      setDraft(answer.value.settings);
      setUndoable(false);
      say(`Undone: ${answer.value.what}`);
    },
  };
};
export type SettingsDraft = ReturnType<typeof useSettingsDraft>;
