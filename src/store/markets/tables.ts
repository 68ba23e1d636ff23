import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import type { ListingState } from "../../core/markets";
import { at } from "../columns";

export const Listing = defineEntity({
  name: "Listing",
  tableName: "listing",
  properties: {
    id: p.uuid().primary(),
    launchId: p.uuid(),
    productId: p.uuid(),
    marketplace: p.text(),
    state: p.text().$type<ListingState>(),
    picture: p.blob().nullable().lazy(),
    pictureWidth: p.integer().nullable(),
    pictureHeight: p.integer().nullable(),
    termsAcceptedAt: at().nullable(),
    testOrderAt: at().nullable(),
    testOrderId: p.text().nullable(),
    orderLink: p.text().nullable(),
    reasons: p.json().$type<string[]>().nullable(),
    externalId: p.text().nullable(),
  },
});

export type Listing = InferEntity<typeof Listing>;
