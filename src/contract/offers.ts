import { fault } from "../core/words";
import { z } from "zod";
import { assumptions, stepKinds } from "../core/offers";
import type { OffersView } from "../core/pages";
import { get, post, wholeDocument } from "./endpoint";
import { smallProduct } from "./products";

/** The offers of a launch with their figures, as the server worked them out. */
const view = z.custom<OffersView>((value) => typeof value === "object" && value !== null && "path" in value && "figures" in value);

export const offersOfLaunch = get("[slug]/offers/view", { answer: view });

const where = z.union([
  z.object({ before: z.string() }),
  z.object({ from: z.literal("checkout") }),
  z.object({ from: z.uuid(), rail: z.enum(["yes", "no"]) }),
]);

/** What is sold at a step: a product that there is, or a new one, which begins as a copy of what it stands behind. */
const sold = z.union([
  z.object({ id: z.uuid(fault("choose_offer")) }),
  // A copy of a product at another price, for a downsell or the next offer.
  smallProduct.extend({ like: z.uuid().optional() }),
]);

/** Changes the offer path of a launch by one step, and answers its offers as they stand then. */
export const changePath = post("[slug]/offers/path", {
  refusals: ["archived", "changed_meanwhile", "cycle", "edge_to_nothing"],
  permission: "path.edit",
  request: z.object({
    /** The version that was looked at: a newer one means that somebody else saved the path meanwhile. */
    version: z.number().int().min(0),
    change: z.discriminatedUnion("do", [
      z.object({
        do: z.literal("add"),
        at: where,
        kind: z.enum(stepKinds),
        product: sold,
        /** An offer page that stands on no step yet, a template for a new one, or one that is copied. */
        page: z.union([z.object({ id: z.uuid() }), z.object({ template: z.string().max(60) }), z.object({ copy: z.uuid() })]),
      }),
      z.object({ do: z.literal("remove"), step: z.uuid() }),
      z.object({ do: z.literal("earlier"), step: z.uuid() }),
      z.object({ do: z.literal("later"), step: z.uuid() }),
      z.object({ do: z.literal("lead"), step: z.uuid(), rail: z.enum(["yes", "no"]), to: z.string().max(60) }),
      z.object({
        do: z.literal("set"),
        step: z.uuid(),
        change: z.object({ kind: z.enum(stepKinds), sure: z.boolean(), productId: z.uuid(), pageId: z.uuid() }).partial(),
      }),
      z.object({ do: z.literal("restore"), to: z.number().int().min(0) }),
      z.object({ do: z.literal("copy"), launch: z.string().max(80) }),
    ]),
  }),
  answer: view,
  mostBytes: wholeDocument,
});

/** What is assumed of buyers until it is measured. */
export const setAssumptions = post("[slug]/offers/assume", { permission: "path.edit", request: z.object({ assumptions }) });
/** Gives a launch that collects addresses a checkout, with a first product where it has none. */
export const addCheckout = post("[slug]/offers/add-checkout", {
  refusals: ["archived", "address_taken"],
  permission: "path.edit",
  request: z.object({ product: smallProduct.optional() }),
});
