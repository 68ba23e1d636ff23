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
export const Commission = defineEntity({
  name: "Commission",
  tableName: "commission",
  properties: {
    lineId: p.uuid().primary(),
    partnerId: p.uuid(),
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
export type Commission = InferEntity<typeof Commission>;
