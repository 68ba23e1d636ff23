import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import { at, count } from "../columns";

/** The log, in parts by week. It has no key of its own; the ORM asks for one. */
export const EventRow = defineEntity({
  name: "EventRow",
  tableName: "event",
  properties: {
    launchId: p.uuid().primary(),
    personId: p.uuid().primary(),
    kind: p.text().primary(),
    at: at().primary(),
    page: p.text().nullable(),
    country: p.text().nullable(),
    partnerId: p.uuid().nullable(),
    visitorId: p.uuid().nullable(),
    data: p.json().$type<Record<string, unknown>>(),
  },
});
/** From when on the log is whole. */
export const EventEdge = defineEntity({
  name: "EventEdge",
  tableName: "event_edge",
  properties: {
    singleton: p.boolean().primary().default(true),
    at: at(),
  },
});
/** When a person first came to each stage. */
export const StageRollup = defineEntity({
  name: "StageRollup",
  tableName: "stage_rollup",
  properties: {
    launchId: p.uuid().primary(),
    personId: p.uuid().primary(),
    country: p.text().nullable(),
    countryAt: at().nullable(),
    partnerId: p.uuid().nullable(),
    source: p.text().nullable(),
    sourceAt: at().nullable(),
    device: p.text().nullable(),
    deviceAt: at().nullable(),
    visited: at().nullable(),
    optedIn: at().nullable(),
    sawSales: at().nullable(),
    beganCheckout: at().nullable(),
    paid: at().nullable(),
  },
});
/** How often a person did something on a day. */
export const DayRollup = defineEntity({
  name: "DayRollup",
  tableName: "day_rollup",
  properties: {
    launchId: p.uuid().primary(),
    personId: p.uuid().primary(),
    kind: p.text().primary(),
    page: p.text().primary(),
    day: p.date().primary(),
    n: p.integer(),
  },
});
/** Who saw a page in which version, and whether they acted there. */
export const PageRollup = defineEntity({
  name: "PageRollup",
  tableName: "page_rollup",
  properties: {
    launchId: p.uuid().primary(),
    page: p.text().primary(),
    personId: p.uuid().primary(),
    variant: p.text().default("A"),
    seenAt: at(),
    actedAt: at().nullable(),
  },
});
/** How much of a video a person has watched, in quarters. */
export const FilmRollup = defineEntity({
  name: "FilmRollup",
  tableName: "film_rollup",
  properties: {
    launchId: p.uuid().primary(),
    page: p.text().primary(),
    film: p.text().primary(),
    personId: p.uuid().primary(),
    quarters: p.smallint(),
    at: at(),
  },
});
/** Differences of the counts of a page, folded into one row now and then: a sum is asked for. */
export const PageCount = defineEntity({
  name: "PageCount",
  tableName: "page_count",
  properties: {
    launchId: p.uuid().primary(),
    page: p.text().primary(),
    variant: p.text().primary(),
    people: count(),
    optedIn: count(),
    began: count(),
    paid: count(),
  },
});
/** Differences of the counts of an hour, folded likewise. */
export const HourCount = defineEntity({
  name: "HourCount",
  tableName: "hour_count",
  properties: {
    launchId: p.uuid().primary(),
    kind: p.text().primary(),
    hour: at().primary(),
    country: p.text().primary(),
    source: p.text().primary(),
    people: count(),
    events: count(),
  },
});

export type EventRow = InferEntity<typeof EventRow>;
export type EventEdge = InferEntity<typeof EventEdge>;
export type StageRollup = InferEntity<typeof StageRollup>;
export type DayRollup = InferEntity<typeof DayRollup>;
export type PageRollup = InferEntity<typeof PageRollup>;
export type FilmRollup = InferEntity<typeof FilmRollup>;
export type PageCount = InferEntity<typeof PageCount>;
export type HourCount = InferEntity<typeof HourCount>;
