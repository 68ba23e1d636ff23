import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { Role } from "../../core/access";
import type { SendingLimits } from "../../core/emails";
import type { Locale } from "../../core/money";
import type { TaxNumber } from "../../core/settings";
import { at } from "../columns";

export const DeskUser = defineEntity({
  name: "DeskUser",
  tableName: "desk_user",
  properties: {
    id: p.uuid().primary(),
    email: p.text(),
    name: p.text(),
    passwordHash: p.text(),
    role: p.text().$type<Role>(),
    /** When the membership ended. What they made stays theirs. */
    endedAt: at().nullable(),
  },
});
export const Vendor = defineEntity({
  name: "Vendor",
  tableName: "vendor",
  properties: {
    singleton: p.boolean().primary().default(true),
    version: p.integer().version(),
    name: p.text(),
    postalAddress: p.text().default(""),
    /** ISO 3166-1. */
    country: p.text(),
    taxNumbers: p.json().$type<TaxNumber[]>(),
    senderName: p.text().default(""),
    senderEmail: p.text().default(""),
    locale: p.text().$type<Locale>(),
  },
});
export const Invitation = defineEntity({
  name: "Invitation",
  tableName: "invitation",
  properties: {
    id: p.uuid().primary(),
    email: p.text(),
    role: p.text().$type<Role>(),
    invitedBy: p.uuid(),
    at: at(),
    expiresAt: at(),
    /** When it was accepted, taken back or replaced by another. */
    endedAt: at().nullable(),
  },
});
/** For how long what is kept is kept, where the vendor said otherwise. */
export const Retention = defineEntity({
  name: "Retention",
  tableName: "retention",
  properties: {
    what: p.text().primary(),
    days: p.integer(),
  },
});
/** How mail that goes to many is held back. */
export const SendingSetting = defineEntity({
  name: "SendingSetting",
  tableName: "sending_setting",
  properties: {
    singleton: p.boolean().primary().default(true),
    version: p.integer(),
    limits: p.json().$type<SendingLimits>(),
  },
});
/** A key that signs emails (DKIM, RFC 6376). */
export const DkimKey = defineEntity({
  name: "DkimKey",
  tableName: "dkim_key",
  properties: {
    selector: p.text().primary(),
    domain: p.text(),
    /** Sealed with the installation's secret. */
    privateKey: p.text(),
    publicKey: p.text(),
    madeAt: at(),
    usedSince: at().nullable(),
    endedAt: at().nullable(),
  },
});
/** How the first owner gets in, before there is anybody. */
export const WayIn = defineEntity({
  name: "WayIn",
  tableName: "way_in",
  properties: {
    singleton: p.boolean().primary().default(true),
    hash: p.text(),
    expiresAt: at(),
  },
});

export type DeskUser = InferEntity<typeof DeskUser>;
export type Vendor = InferEntity<typeof Vendor>;
export type Invitation = InferEntity<typeof Invitation>;
export type Retention = InferEntity<typeof Retention>;
export type DkimKey = InferEntity<typeof DkimKey>;
export type WayIn = InferEntity<typeof WayIn>;
