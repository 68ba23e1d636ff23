import { fault, faultIssue } from "../../words";
import { z } from "zod";
import { wholeCondition } from "../../conditions";

/** A time of day, such as 20:00. */
export const timeOfDay = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, fault("time_of_day"));
/** `YYYY-MM-DDTHH:MM`, in the launch's zone. */
const wall = z.string().regex(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, fault("moment"));
const minutes = (most: number) => z.number().int().min(0).max(most);
const year = 366 * 1440;
const id = z.string().regex(/^[\w-]{1,60}$/);

/** The key of a page within its launch: its kind, or the address of a page of the vendor's own. */
const pageKey = z.string().regex(/^[a-z0-9/-]{1,80}$/);

const fixedClock = z.object({ kind: z.literal("fixed"), runUp: wall, opens: wall, closes: wall });
const recurringClock = z.object({
  kind: z.literal("recurring"),
  /** The first opening; it gives the time of day of every other. */
  first: wall,
  /** RFC 5545 §3.3.10, without DTSTART. */
  rule: z.string().max(200),
  lengthMinutes: minutes(year).min(1, fault("doors_time_missing")),
});
export const trigger = z.discriminatedUnion("on", [
  z.object({ on: z.literal("opt_in"), page: pageKey.nullable() }),
  z.object({ on: z.literal("first_visit") }),
  z.object({ on: z.literal("page"), page: pageKey }),
  z.object({ on: z.literal("webhook") }),
]);
export type Trigger = z.infer<typeof trigger>;
const personalClock = z.object({
  kind: z.literal("personal"),
  trigger,
  length: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("exact"), minutes: minutes(year).min(1, fault("personal_time_missing")) }),
    z.object({ kind: z.literal("until"), minutes: minutes(year), time: timeOfDay }),
  ]),
  /** Starts again after a rest, at most so many times; null is never. */
  rearm: z.object({ restMinutes: minutes(5 * year), times: z.number().int().min(1).max(100) }).nullable(),
});
export const clockSettings = z.discriminatedUnion("kind", [fixedClock, recurringClock, personalClock]);
export type ClockSettings = z.infer<typeof clockSettings>;
export type PersonalClock = z.infer<typeof personalClock>;
export type RecurringClock = z.infer<typeof recurringClock>;

/** Which pages something holds for: these alone, or all but these. A folder covers every address below it. */
export const coverage = z.object({
  mode: z.enum(["only", "but"]),
  pages: z.array(pageKey).max(100),
  folders: z.array(z.string().regex(/^[a-z0-9-]+$/)).max(20),
});
export type Coverage = z.infer<typeof coverage>;

const outsideAddress = z.url({ protocol: /^https?$/, message: fault("not_an_address") }).max(500);
export const gateAnswerSetting = z.discriminatedUnion("to", [
  z.object({ to: z.literal("itself") }),
  z.object({ to: z.literal("page"), page: pageKey }),
  z.object({ to: z.literal("address"), url: outsideAddress }),
]);
export type GateAnswerSetting = z.infer<typeof gateAnswerSetting>;
export const gateRule = z.object({ id, covers: coverage, before: gateAnswerSetting, during: gateAnswerSetting, after: gateAnswerSetting });
export type GateRule = z.infer<typeof gateRule>;

export const countdownForms = ["bar_top", "bar_bottom", "inline", "card"] as const;
export type CountdownForm = (typeof countdownForms)[number];
export const countdownSetting = z.object({
  id,
  form: z.enum(countdownForms),
  covers: coverage,
  /** The bells it counts to. */
  to: z.array(z.enum(["opening", "closing"])).min(1, fault("counts_to_nothing")),
  /** Shown from so many minutes before the bell; null is from the start. */
  fromMinutes: minutes(year).nullable(),
  /** Gone so many minutes before the bell; 0 stays to the end. */
  untilMinutes: minutes(year),
});
export type CountdownSetting = z.infer<typeof countdownSetting>;

export const stageLooks = ["quiet", "firm", "loud"] as const;
export const stageSetting = z.object({
  id,
  /** Begins so many minutes before the closing bell. */
  minutes: minutes(year).min(1, fault("before_the_bell")),
  look: z.enum(stageLooks),
  words: z.string().trim().min(1, fault("stage_words_missing")).max(40),
});
export type StageSetting = z.infer<typeof stageSetting>;

/** When an email goes and to whom; what it says is kept beside, by its id. */
export const emailSetting = z
  .object({
    id,
    hangsOn: z.enum(["opening", "closing"]),
    /** After the bell; below zero is before it. */
    minutes: z.number().int().min(-year).max(year),
    /** At such a time of day of the launch's zone, so many days from the bell's; null goes to the minute. */
    time: timeOfDay.nullable().default(null),
    /** Everyone on the list, or those of them who have not bought. */
    to: z.enum(["list", "not_bought"]),
  })
  .superRefine(({ minutes: from, time }, context) => {
    if (time !== null && from % 1440 !== 0) context.addIssue(faultIssue(["minutes"], { code: "whole_days" }));
  });
export type EmailSetting = z.infer<typeof emailSetting>;

/** What an outside tool calls a moment of a person's. */
export const noticeName = z.string().trim().min(1, fault("notice_name_missing")).max(60);

/** A moment of a person's own, from which the steps of a sequence are counted. */
export const momentSetting = z.discriminatedUnion("on", [
  z.object({ on: z.enum(["opt_in", "confirmed", "checkout", "clock_start", "clock_end"]) }),
  /** Of a product, or of anything. */
  z.object({ on: z.enum(["bought", "refunded"]), product: z.uuid().nullable() }),
  z.object({ on: z.literal("tag"), tag: z.string().trim().min(1, fault("tag_missing")).max(60) }),
  /** Told by an outside tool, under a name of its choice. */
  z.object({ on: z.literal("notice"), name: noticeName }),
]);
export type MomentSetting = z.infer<typeof momentSetting>;

export const stepSetting = z.object({
  id,
  /** After the moment. */
  minutes: minutes(year),
  /** Then waits for such a time of day in its reader's zone; null goes at once. */
  time: timeOfDay.nullable(),
  /** Who gets it, by what is known of them when it goes; null is everybody. */
  when: wholeCondition.nullable(),
});
export type StepSetting = z.infer<typeof stepSetting>;

/** Emails that follow a moment of each person's own. */
export const sequenceSetting = z
  .object({
    id,
    name: z.string().trim().min(1, fault("sequence_name_missing")).max(80),
    from: momentSetting,
    /** Ends for whoever has bought in the launch. */
    untilBought: z.boolean(),
    /** Ends for everybody whose doors have closed. */
    untilClosed: z.boolean(),
    steps: z.array(stepSetting).max(30, "30 steps at most."),
  })
  .superRefine(({ from, untilClosed }, context) => {
    if (from.on === "clock_end" && untilClosed) context.addIssue(faultIssue(["untilClosed"], { code: "ends_before_it_begins" }));
  });
export type SequenceSetting = z.infer<typeof sequenceSetting>;

export const featuredSetting = z.object({
  id,
  from: wall,
  to: wall,
  /** What every partner earns of a sale meanwhile, at least; basis points. */
  rateBp: z.number().int().min(1).max(10_000),
});
export type FeaturedSetting = z.infer<typeof featuredSetting>;

export const stopSetting = z.discriminatedUnion("on", [
  z.object({ id, on: z.literal("purchase"), product: z.uuid().nullable(), handTo: z.uuid().nullable() }),
  z.object({ id, on: z.literal("page"), page: pageKey, handTo: z.uuid().nullable() }),
]);
export type StopSetting = z.infer<typeof stopSetting>;

/** From when on an episode is open to a person. */
export const unlockSetting = z.discriminatedUnion("on", [
  z.object({ on: z.literal("start") }),
  /** So many minutes after a bell; below zero is before it. */
  z.object({ on: z.literal("bell"), bell: z.enum(["run_up", "opening", "closing"]), minutes: z.number().int().min(-year).max(year) }),
  /** So many days after the person's opt-in, at the same time of day or at one of the launch's zone. */
  z.object({
    on: z.literal("opt_in"),
    days: z.number().int().min(0).max(366),
    time: timeOfDay.nullable(),
  }),
]);
export type UnlockSetting = z.infer<typeof unlockSetting>;
export const liveSetting = z.object({
  starts: wall,
  lengthMinutes: minutes(1440).min(5),
  /** The join link opens so many minutes before it starts. */
  earlyMinutes: minutes(1440),
  /** Where it takes place. */
  url: outsideAddress,
  /** Until which bell its recording may be watched afterwards. */
  replay: z.enum(["none", "opening", "closing", "always"]),
});
export type LiveSetting = z.infer<typeof liveSetting>;
export const episodeSetting = z.object({ id, page: pageKey, unlock: unlockSetting, live: liveSetting.nullable() });
export type EpisodeSetting = z.infer<typeof episodeSetting>;

/** All that the vendor sets about the time of a launch. Kept whole, so that a version can be brought back whole. */
/** Under which name and from which address emails go; an empty name is the vendor's. */
export const senderSetting = z.object({
  name: z.string().trim().max(80),
  email: z
    .string()
    .trim()
    .toLowerCase()
    .pipe(z.email(fault("not_an_email")).max(254)),
});
export type SenderSetting = z.infer<typeof senderSetting>;

export const launchSettings = z.object({
  clock: clockSettings,
  graceMinutes: minutes(1440),
  gates: z.array(gateRule).max(50),
  countdowns: z.array(countdownSetting).max(20),
  stages: z.array(stageSetting).max(10),
  emails: z.array(emailSetting).max(60),
  /** Where the launch's emails come from; null is the vendor's own name and address. */
  sender: senderSetting.nullable().default(null),
  /** Emails on people's own moments. */
  sequences: z.array(sequenceSetting).max(20, "20 sequences at most.").default([]),
  stops: z.array(stopSetting).max(10),
  /** Dated prices of the main product, in minor units; a clock with dates only. */
  prices: z.array(z.object({ id, from: wall, minor: z.number().int().positive() })).max(20),
  /** After every so many sales the price rises by a step, up to the cap; minor units. */
  rising: z
    .object({
      /** By what it rises: with the sales, or with the minutes since the doors opened. */
      by: z.enum(["sales", "time"]).optional(),
      /** After so many sales, or minutes. */
      every: z.number().int().min(1).max(1_000_000),
      stepMinor: z.number().int().positive(),
      capMinor: z.number().int().positive(),
    })
    .nullable(),
  /** For how long a price that was shown is kept for its buyer. */
  holdMinutes: minutes(1440).optional(),
  seats: z.number().int().min(1).max(1_000_000).nullable(),
  /** What answers when all seats are taken, and whom a seat that comes back is open to. */
  soldOut: z.object({ answer: z.enum(["waiting_list", "closed"]), reopens: z.enum(["everyone", "list"]) }).optional(),
  /** Stretches of time in which partners earn more. */
  featured: z.array(featuredSetting).max(20),
  /** The run of pages that unlock one by one, in order. */
  episodes: z.array(episodeSetting).max(40, "40 episodes at most."),
});
export type LaunchSettings = z.infer<typeof launchSettings>;

/** What holds where the vendor has not chosen: the page that takes addresses answers, and a seat that comes back is open to everyone. */
export const usualSoldOut: NonNullable<LaunchSettings["soldOut"]> = { answer: "waiting_list", reopens: "everyone" };
