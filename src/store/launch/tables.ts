import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { LaunchSettings, LaunchShape } from "../../core/launch";
import type { Assumptions } from "../../core/offers";
import type { Look } from "../../core/pages";
import { at, count } from "../columns";

export const Launch = defineEntity({
  name: "Launch",
  tableName: "launch",
  properties: {
    id: p.uuid().primary(),
    slug: p.text(),
    name: p.text(),
    zone: p.text(),
    shape: p.text().$type<LaunchShape>(),
    settings: p.json().$type<LaunchSettings>(),
    /** How its pages look, but those with a look of their own. */
    look: p.json().$type<Look>(),
    /** Counts the versions of the settings, so that two people do not overwrite one another. */
    version: p.integer(),
    /** Up to when its bells were run; empty until they are scheduled. */
    bellsUntil: at().nullable(),
    /** Signs the notices by which an outside tool starts a person's clock (Standard Webhooks). */
    hookSecret: p.text(),
    mainProductId: p.uuid(),
    creditWindowDays: p.integer(),
    recoveryDelayMinutes: p.integer(),
    createdAt: at(),
    /** When it left the lists. */
    archivedAt: at().nullable(),
    /** What is assumed where nothing was measured. */
    assumptions: p
      .json()
      .$type<Assumptions>()
      .onCreate(() => ({})),
  },
});
export const LaunchChange = defineEntity({
  name: "LaunchChange",
  tableName: "launch_change",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    userId: p.uuid(),
    at: at(),
    what: p.text(),
    before: p.json().$type<LaunchSettings>(),
    version: p.integer(),
    undone: p.boolean(),
  },
});
/** A bell that was run: what it did, and how far its emails are queued. */
export const BellRun = defineEntity({
  name: "BellRun",
  tableName: "bell_run",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    key: p.text(),
    at: at(),
    label: p.text(),
    /** The email that it sends. */
    emailId: p.text().nullable(),
    /** The opening of the window that it belongs to, where there are several. */
    opens: at().nullable(),
    ranAt: at(),
    outcome: p.text(),
    notifiedAt: at().nullable(),
    queued: p.integer().default(0),
    queuedAfter: p.uuid().nullable(),
    queuedAt: at().nullable(),
  },
});
export const ClockStart = defineEntity({
  name: "ClockStart",
  tableName: "clock_start",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    personId: p.uuid(),
    visitorId: p.uuid().nullable(),
    at: at(),
    trigger: p.text(),
    superseded: p.boolean().default(false),
    /** When the run that it began ends; empty where it began none, or that was not found out yet. */
    endsAt: at().nullable(),
    /** When that was found out; empty until it is. */
    datedAt: at().nullable(),
  },
});
export const ClockStop = defineEntity({
  name: "ClockStop",
  tableName: "clock_stop",
  properties: {
    launchId: p.uuid().primary(),
    personId: p.uuid().primary(),
    at: at(),
    because: p.text(),
    handedTo: p.uuid().nullable(),
  },
});
/** How many seats of a launch are taken. Written last in a transaction: those who buy wait for this row. */
export const SeatsTaken = defineEntity({
  name: "SeatsTaken",
  tableName: "seats_taken",
  properties: {
    launchId: p.uuid().primary(),
    n: count().default(0),
    soldOutOnce: p.boolean().default(false),
  },
});

export type Launch = InferEntity<typeof Launch>;
export type LaunchChange = InferEntity<typeof LaunchChange>;
export type BellRun = InferEntity<typeof BellRun>;
export type ClockStart = InferEntity<typeof ClockStart>;
export type ClockStop = InferEntity<typeof ClockStop>;
export type SeatsTaken = InferEntity<typeof SeatsTaken>;
