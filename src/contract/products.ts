import { fault } from "../core/words";
import { z } from "zod";
import { currencies } from "../core/money";
import { couponRequest, priceTerms, productRequest, productRow, taxRequest } from "../core/offers";
import { get, post } from "./endpoint";

/** A product in the fewest words: what it is called, and its price as typed. */
export const smallProduct = z.object({
  name: z.string().trim().min(1, fault("product_name_missing")).max(120),
  price: z.string(),
});
export type SmallProduct = z.output<typeof smallProduct>;
const named = z.object({ id: z.string(), name: z.string(), price: z.string() });

/** One product as it is saved now. */
export const readProduct = get("products/[id]", { answer: productRow });
export const saveProduct = post("products/[id]/save", {
  refusals: ["changed_meanwhile"],
  permission: "product.edit",
  request: productRequest,
  answer: z.object({ version: z.number(), priceMinor: z.number(), prices: z.partialRecord(z.enum(currencies), z.number()) }),
});
export const copyProduct = post("products/[id]/copy", { permission: "product.edit", request: smallProduct, answer: z.object({ id: z.string() }) });
export const setProductPrice = post("products/[id]/price", {
  permission: "product.edit",
  request: z.object({ price: z.string(), terms: priceTerms }),
});
export const setProductPicture = post("products/[id]/picture", {
  permission: "product.edit",
  request: z.object({ mediaId: z.uuid().nullable() }),
});
/** Makes a product that a checkout's page offers as a bump. */
export const makeBump = post("pages/[id]/bump", {
  refusals: ["changed_meanwhile"],
  permission: "page.edit",
  request: smallProduct,
  answer: named,
});

export const makeCoupon = post("coupons/make", { permission: "coupon.edit", request: couponRequest, answer: z.object({ id: z.string() }) });
export const stopCoupon = post("coupons/[id]/stop", { permission: "coupon.edit" });
export const archiveCoupon = post("coupons/[id]/archive", {
  refusals: ["coupon_runs"],
  permission: "coupon.edit",
  request: z.object({ archived: z.boolean() }),
});
export const deleteCoupon = post("coupons/[id]/delete", { refusals: ["in_use"], permission: "coupon.edit" });

/** Changes the tax table; it is answered whole. */
export const changeTaxTable = post("tax", {
  permission: "tax.edit",
  request: taxRequest,
  answer: z.array(z.object({ country: z.string(), region: z.string(), taxClass: z.string(), rateBp: z.number(), from: z.string() })),
});
