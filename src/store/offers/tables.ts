import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { Decision, OfferPath } from "../../core/offers";
import { at } from "../columns";

export const PathStep = defineEntity({
  name: "PathStep",
  tableName: "path_step",
  properties: { id: p.uuid().primary(), launchId: p.uuid() },
});
/** One state of a launch's offer path. The newest is the one that new buyers walk. */
export const PathVersion = defineEntity({
  name: "PathVersion",
  tableName: "path_version",
  properties: {
    launchId: p.uuid().primary(),
    version: p.integer().primary(),
    path: p.json().$type<OfferPath>(),
    /** What it changed, in words. */
    what: p.text(),
    at: at(),
    userId: p.uuid().nullable(),
  },
});
/** What a buyer said to an offer of the path. */
export const OfferDecision = defineEntity({
  name: "OfferDecision",
  tableName: "offer_decision",
  properties: {
    orderId: p.uuid().primary(),
    stepId: p.uuid().primary(),
    decision: p.text().$type<Decision>(),
    at: at(),
  },
});

export type PathStep = InferEntity<typeof PathStep>;
export type PathVersion = InferEntity<typeof PathVersion>;
export type OfferDecision = InferEntity<typeof OfferDecision>;
