import type { CommissionRule } from "../../core/partners";
import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import { at, minor } from "../columns";

export const Partner = defineEntity({
  name: "Partner",
  tableName: "partner",
  properties: { id: p.uuid().primary(), email: p.text(), name: p.text(), passwordHash: p.text(), code: p.text(), rateBp: p.integer() },
});
export const PartnerApplication = defineEntity({
  name: "PartnerApplication",
  tableName: "partner_application",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    email: p.text(),
    name: p.text(),
    words: p.text(),
    at: at(),
    state: p.text().$type<"waiting" | "taken" | "declined">().default("waiting"),
    decidedAt: at().nullable(),
    decidedBy: p.uuid().nullable(),
    partnerId: p.uuid().nullable(),
    welcomedAt: at().nullable(),
  },
});
/** A partner's own word on the pages of a launch. */
export const PartnerWordRow = defineEntity({
  name: "PartnerWordRow",
  tableName: "partner_word",
  properties: {
    launchId: p.uuid().primary(),
    partnerId: p.uuid().primary(),
    name: p.text(),
    note: p.text(),
    mediaId: p.uuid().nullable(),
    at: at(),
  },
});
/** A click on a partner's link. It is one for good, whoever it turns out to count for. */
export const Touch = defineEntity({
  name: "Touch",
  tableName: "touch",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    partnerId: p.uuid(),
    at: at(),
    page: p.text().nullable(),
    source: p.text().nullable(),
    subIds: p.array().columnType("text[]").nullable(),
    visitorId: p.uuid().nullable(),
  },
});
/** Whom a touch counts for. */
export const TouchPerson = defineEntity({
  name: "TouchPerson",
  tableName: "touch_person",
  properties: {
    personId: p.uuid().primary(),
    touchId: p.uuid().primary(),
  },
});
/** A plan of what partners earn, one row for each version. Commissions keep the version that made them. */
export const CommissionPlan = defineEntity({
  name: "CommissionPlan",
  tableName: "commission_plan",
  properties: { id: p.uuid().primary(), version: p.integer().primary(), name: p.text(), rules: p.json().$type<{ kind: "partner_rate" }>(), at: at() },
});
export const Commission = defineEntity({
  name: "Commission",
  tableName: "commission",
  properties: {
    id: p.uuid().primary(),
    lineId: p.uuid(),
    partnerId: p.uuid(),
    /** 1 for who sold, 2 for who brought that partner. */
    level: p.integer(),
    planId: p.uuid(),
    planVersion: p.integer(),
    /** The rule of the plan that set the rate. */
    rule: p.text().$type<CommissionRule>(),
    baseMinor: minor(),
    rateBp: p.integer(),
    minor: minor(),
    currency: p.text(),
    pendingUntil: at(),
    reversedMinor: minor().default(0),
  },
});

export type Partner = InferEntity<typeof Partner>;
export type PartnerApplication = InferEntity<typeof PartnerApplication>;
export type PartnerWordRow = InferEntity<typeof PartnerWordRow>;
export type Touch = InferEntity<typeof Touch>;
export type TouchPerson = InferEntity<typeof TouchPerson>;
export type CommissionPlan = InferEntity<typeof CommissionPlan>;
export type Commission = InferEntity<typeof Commission>;
