import { type Fault } from "../../../core/words";
import { readAmount, usualLocale, type Locale } from "../../../core/money";
import { Vendor } from "../../../store/tables";
import type { EntityManager } from "../../../store/orm";
import type { Refusal } from "../refusal";

/** How this vendor's desk writes numbers. */
export const deskLocale = async (em: EntityManager): Promise<Locale> =>
  (await em.findOne(Vendor, { singleton: true }, { fields: ["locale"] }))?.locale ?? usualLocale;

/** Minor units of an amount that was typed; refused where it cannot be read, or in two ways. */
export const typedAmount = (typed: string, currency: string, locale: Locale, refuse: (fault: Fault) => Refusal): number => {
  const read = readAmount(typed, currency, locale);
  if (typeof read !== "number") throw refuse({ code: "amount", refusal: read, currency });
  return read;
};
