import { lengthWords } from "../view/bells";
import { behindAnOrder } from "../view/gate";
import { planOf, type LaunchPage, type LaunchSource } from "./launch";
import { recurrenceRefusal, type RecurrenceRefusal } from "../clock/recurrence";
import type { Coverage } from "./settings";
import { isZone, resolveWallTime } from "../clock/wallTime";

/** What is wrong with the settings of a launch, by the path of the field, in a sentence each. */
export type SettingErrors = Record<string, string>;

const recurrenceSentence = (refusal: RecurrenceRefusal): [field: string, sentence: string] => {
  switch (refusal.code) {
    case "not_a_rule":
      return ["clock.rule", "This is not a recurrence rule of RFC 5545, such as FREQ=WEEKLY;BYDAY=MO."];
    case "part_unknown":
      return ["clock.rule", `“${refusal.part}” is no part of a recurrence rule that is understood here.`];
    case "part_twice":
      return ["clock.rule", `${refusal.part} stands in the rule twice.`];
    case "part_wrong":
      return ["clock.rule", `${refusal.part}=${refusal.value} is not possible (RFC 5545).`];
    case "parts_clash":
      return [
        "clock.rule",
        refusal.part === "FREQ"
          ? "The rule must say how often: FREQ=WEEKLY, for example."
          : refusal.with
            ? `${refusal.part} and ${refusal.with} do not go together (RFC 5545).`
            : `${refusal.part} needs another BY… beside it (RFC 5545).`,
      ];
    case "first_out_of_range":
      return ["clock.first", `The first opening must lie between the years ${refusal.from} and ${refusal.to}.`];
    case "too_often":
      return ["clock.rule", "Doors open once a day at most: weekly, monthly or daily rules."];
    case "never_occurs":
      return ["clock.rule", "No day fits this rule."];
    case "windows_overlap":
      return [
        "clock.lengthMinutes",
        `The doors would open again after ${lengthWords(refusal.gapMinutes)}, before they have closed. Make it shorter than that.`,
      ];
  }
};

/** More rises than buyers could follow; each is a bell of its own. */
const mostRises = 1_500;

const clockErrors = ({ settings: { clock }, zone }: LaunchSource): SettingErrors => {
  const errors: SettingErrors = {};
  const instant = (field: string, wall: string) => {
    const resolved = resolveWallTime(wall, zone);
    if ("instant" in resolved) return resolved.instant;
    errors[`clock.${field}`] = "Give a date and a time, such as 27 November 2026, 18:00.";
    return undefined;
  };
  if (clock.kind === "fixed") {
    const [runUp, opens, closes] = [instant("runUp", clock.runUp), instant("opens", clock.opens), instant("closes", clock.closes)];
    if (opens && closes && closes <= opens) errors["clock.closes"] = "The closing bell must ring after the opening bell.";
    if (runUp && opens && runUp > opens) errors["clock.runUp"] = "The run-up begins before the doors open.";
  }
  if (clock.kind === "recurring" && instant("first", clock.first)) {
    const refusal = recurrenceRefusal({ ...clock, zone });
    if (refusal) {
      const [field, sentence] = recurrenceSentence(refusal);
      errors[field] = sentence;
    }
  }
  if (clock.kind === "personal" && clock.length.minutes === 0) errors["clock.length.minutes"] = "Give each person some time.";
  return errors;
};

/** Checks the settings of a launch against its zone, its pages and one another. Empty where all is well. */
export const settingErrors = (source: LaunchSource): SettingErrors => {
  if (!isZone(source.zone)) return { zone: `“${source.zone}” is not a time zone of the IANA database, such as Europe/Lisbon.` };
  const { settings, pages, price, zone } = source;
  const errors = clockErrors(source);
  const known = (key: string): LaunchPage | undefined => pages.find((page) => page.key === key);
  const missing = (field: string, key: string | null) => {
    if (key !== null && !known(key)) errors[field] = `This launch has no page “${key}” any more. Choose another.`;
  };
  const coverage = (field: string, { mode, pages: keys, folders }: Coverage) => {
    keys.forEach((key) => missing(field, key));
    if (mode === "only" && keys.length + folders.length === 0) errors[field] = "Choose at least one page or folder.";
  };
  if (settings.clock.kind === "personal" && "page" in settings.clock.trigger) missing("clock.trigger.page", settings.clock.trigger.page);
  settings.gates.forEach((gate, index) => {
    coverage(`gates.${index}.covers`, gate.covers);
    for (const phase of ["before", "during", "after"] as const) {
      const answer = gate[phase];
      if (answer.to !== "page") continue;
      missing(`gates.${index}.${phase}`, answer.page);
      const page = known(answer.page);
      if (page && behindAnOrder(page.kind)) errors[`gates.${index}.${phase}`] = "This page asks for an order, so no gate can answer with it.";
    }
  });
  settings.countdowns.forEach((countdown, index) => {
    coverage(`countdowns.${index}.covers`, countdown.covers);
    if (countdown.fromMinutes !== null && countdown.fromMinutes <= countdown.untilMinutes)
      errors[`countdowns.${index}.fromMinutes`] = "It must appear before it goes.";
  });
  settings.stops.forEach((stop, index) => {
    if (stop.on === "page") missing(`stops.${index}.page`, stop.page);
  });
  const run = settings.episodes.map(({ page }) => page);
  settings.episodes.forEach(({ page: key, unlock, live }, index) => {
    const at = `episodes.${index}`;
    missing(`${at}.page`, key);
    const page = known(key);
    if (page && page.kind !== "content") errors[`${at}.page`] = "Only a page of content can be an episode.";
    if (page?.slug === "") errors[`${at}.page`] = "The launch’s own address is never locked: give the episode an address of its own.";
    if (run.indexOf(key) !== index) errors[`${at}.page`] = "This page is in the run already.";
    if (unlock.on === "bell" && unlock.bell === "run_up" && settings.clock.kind !== "fixed")
      errors[`${at}.unlock`] = "Only a clock with dates of its own has a run-up.";
    if (live && !("instant" in resolveWallTime(live.starts, zone)))
      errors[`${at}.live.starts`] = "Give a date and a time, such as 27 November 2026, 18:00.";
  });
  const minutes = settings.stages.map((stage) => stage.minutes);
  settings.stages.forEach((stage, index) => {
    if (minutes.indexOf(stage.minutes) !== index) errors[`stages.${index}.minutes`] = "Another stage begins at the same moment.";
  });
  if (settings.prices.length > 0 && settings.clock.kind !== "fixed") errors["prices"] = "Dated prices need a clock with dates of its own.";
  settings.prices.forEach((dated, index) => {
    if (!("instant" in resolveWallTime(dated.from, zone)))
      errors[`prices.${index}.from`] = "Give a date and a time, such as 27 November 2026, 18:00.";
  });
  settings.featured.forEach((featured, index) => {
    const [from, to] = [resolveWallTime(featured.from, zone), resolveWallTime(featured.to, zone)];
    const sentence = "Give a date and a time, such as 27 November 2026, 18:00.";
    if (!("instant" in from)) errors[`featured.${index}.from`] = sentence;
    if (!("instant" in to)) errors[`featured.${index}.to`] = sentence;
    else if ("instant" in from && to.instant <= from.instant) errors[`featured.${index}.to`] = "It must end after it begins.";
  });
  if (settings.rising?.by === "time" && settings.clock.kind !== "fixed")
    errors["rising.by"] = "A price that rises with time needs a clock with dates of its own.";
  if (Object.keys(errors).length === 0 && settings.rising?.by === "time") {
    const rises = planOf(source).prices.length - settings.prices.length;
    if (rises > mostRises)
      errors["rising.every"] =
        `The price would rise ${rises.toLocaleString("en")} times; ${mostRises.toLocaleString("en")} at most. Let it rise less often, or by more.`;
  }
  if (settings.rising && settings.rising.capMinor < price.minor) errors["rising.capMinor"] = "The cap lies below the price it starts from.";
  return errors;
};
