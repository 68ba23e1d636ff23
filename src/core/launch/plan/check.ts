import type { Faults } from "../../words";
import { behindAnOrder } from "../view/gate";
import { planOf, type LaunchPage, type LaunchSource } from "./launch";
import { recurrenceRefusal, type RecurrenceRefusal } from "../clock/recurrence";
import type { Coverage } from "./settings";
import { isZone, resolveWallTime } from "../clock/wallTime";

/** At which field a rule is wrong. */
const recurrenceField = ({ code }: RecurrenceRefusal): string =>
  code === "first_out_of_range" ? "clock.first" : code === "windows_overlap" ? "clock.lengthMinutes" : "clock.rule";

/** More rises than buyers could follow; each is a bell of its own. */
const mostRises = 1_500;

const clockFaults = ({ settings: { clock }, zone }: LaunchSource): Faults => {
  const faults: Faults = {};
  const instant = (field: string, wall: string) => {
    const resolved = resolveWallTime(wall, zone);
    if ("instant" in resolved) return resolved.instant;
    faults[`clock.${field}`] = { code: "moment" };
    return undefined;
  };
  if (clock.kind === "fixed") {
    const [runUp, opens, closes] = [instant("runUp", clock.runUp), instant("opens", clock.opens), instant("closes", clock.closes)];
    if (opens && closes && closes <= opens) faults["clock.closes"] = { code: "closes_first" };
    if (runUp && opens && runUp > opens) faults["clock.runUp"] = { code: "run_up_late" };
  }
  if (clock.kind === "recurring" && instant("first", clock.first)) {
    const refusal = recurrenceRefusal({ ...clock, zone });
    if (refusal) {
      faults[recurrenceField(refusal)] = { code: "recurrence", refusal };
    }
  }
  if (clock.kind === "personal" && clock.length.minutes === 0) faults["clock.length.minutes"] = { code: "personal_time_missing" };
  return faults;
};

/** Checks the settings of a launch against its zone, its pages and one another. Empty where all is well. */
export const settingFaults = (source: LaunchSource): Faults => {
  if (!isZone(source.zone)) return { zone: { code: "zone", typed: source.zone } };
  const { settings, pages, price, zone } = source;
  const faults = clockFaults(source);
  const known = (key: string): LaunchPage | undefined => pages.find((page) => page.key === key);
  const missing = (field: string, key: string | null) => {
    if (key !== null && !known(key)) faults[field] = { code: "page_gone", page: key };
  };
  const coverage = (field: string, { mode, pages: keys, folders }: Coverage) => {
    keys.forEach((key) => missing(field, key));
    if (mode === "only" && keys.length + folders.length === 0) faults[field] = { code: "covers_nothing" };
  };
  if (settings.clock.kind === "personal" && "page" in settings.clock.trigger) missing("clock.trigger.page", settings.clock.trigger.page);
  settings.gates.forEach((gate, index) => {
    coverage(`gates.${index}.covers`, gate.covers);
    for (const phase of ["before", "during", "after"] as const) {
      const answer = gate[phase];
      if (answer.to !== "page") continue;
      missing(`gates.${index}.${phase}`, answer.page);
      const page = known(answer.page);
      if (page && behindAnOrder(page.kind)) faults[`gates.${index}.${phase}`] = { code: "gate_behind_order" };
    }
  });
  settings.countdowns.forEach((countdown, index) => {
    coverage(`countdowns.${index}.covers`, countdown.covers);
    if (countdown.fromMinutes !== null && countdown.fromMinutes <= countdown.untilMinutes)
      faults[`countdowns.${index}.fromMinutes`] = { code: "countdown_order" };
  });
  settings.stops.forEach((stop, index) => {
    if (stop.on === "page") missing(`stops.${index}.page`, stop.page);
  });
  const run = settings.episodes.map(({ page }) => page);
  settings.episodes.forEach(({ page: key, unlock, live }, index) => {
    const at = `episodes.${index}`;
    missing(`${at}.page`, key);
    const page = known(key);
    if (page && page.kind !== "content") faults[`${at}.page`] = { code: "episode_content" };
    if (page?.slug === "") faults[`${at}.page`] = { code: "episode_own_address" };
    if (run.indexOf(key) !== index) faults[`${at}.page`] = { code: "episode_twice" };
    if (unlock.on === "bell" && unlock.bell === "run_up" && settings.clock.kind !== "fixed") faults[`${at}.unlock`] = { code: "run_up_needs_dates" };
    if (live && !("instant" in resolveWallTime(live.starts, zone))) faults[`${at}.live.starts`] = { code: "moment" };
  });
  const minutes = settings.stages.map((stage) => stage.minutes);
  settings.stages.forEach((stage, index) => {
    if (minutes.indexOf(stage.minutes) !== index) faults[`stages.${index}.minutes`] = { code: "stage_twice" };
  });
  if (settings.prices.length > 0 && settings.clock.kind !== "fixed") faults["prices"] = { code: "prices_need_dates" };
  settings.prices.forEach((dated, index) => {
    if (!("instant" in resolveWallTime(dated.from, zone))) faults[`prices.${index}.from`] = { code: "moment" };
  });
  settings.featured.forEach((featured, index) => {
    const [from, to] = [resolveWallTime(featured.from, zone), resolveWallTime(featured.to, zone)];
    const moment = { code: "moment" } as const;
    if (!("instant" in from)) faults[`featured.${index}.from`] = moment;
    if (!("instant" in to)) faults[`featured.${index}.to`] = moment;
    else if ("instant" in from && to.instant <= from.instant) faults[`featured.${index}.to`] = { code: "ends_before_begin" };
  });
  if (settings.rising?.by === "time" && settings.clock.kind !== "fixed") faults["rising.by"] = { code: "rising_needs_dates" };
  if (Object.keys(faults).length === 0 && settings.rising?.by === "time") {
    const rises = planOf(source).prices.length - settings.prices.length;
    if (rises > mostRises) faults["rising.every"] = { code: "rises_too_often", rises, most: mostRises };
  }
  if (settings.rising && settings.rising.capMinor < price.minor) faults["rising.capMinor"] = { code: "cap_below" };
  return faults;
};
