import { fault } from "../../words";
import { z } from "zod";

/** Classes of tax. What sending costs has its own, and follows the standard one where the table says nothing of it. */
export const taxClasses = ["standard", "reduced", "zero", "shipping"] as const;
export type TaxClass = (typeof taxClasses)[number];

/** A rate as it ships: country, class, basis points, and the day from which it holds. */
export type ShippedRate = readonly [country: string, taxClass: TaxClass, rateBp: number, from: string, region?: string];

/** Regions with a rate of their own that have a name here, by country and the region's part of its ISO 3166-2 code (from memory). */
export const regionNames: Record<string, Record<string, string>> = {
  PT: { "20": "Azores", "30": "Madeira" },
  ES: { CN: "Canary Islands", CE: "Ceuta", ML: "Melilla" },
  FR: { "20R": "Corsica" },
};
export const regionName = (country: string, region: string): string => regionNames[country]?.[region] ?? region;

/**
 * Value added tax of the European Union's member states and some neighbours, with the day from which each rate holds;
 * reduced: what electronic publications are charged where that is less. All values from memory: whoever trades looks
 * them up first, and changes them at the desk.
 */
export const shippedRates: ShippedRate[] = [
  ["AT", "standard", 2_000, "1984-01-01"],
  ["BE", "standard", 2_100, "1996-01-01"],
  ["BG", "standard", 2_000, "1999-01-01"],
  ["CY", "standard", 1_900, "2014-01-13"],
  ["CZ", "standard", 2_100, "2013-01-01"],
  ["DE", "standard", 1_900, "2007-01-01"],
  ["DE", "standard", 1_600, "2020-07-01"],
  ["DE", "standard", 1_900, "2021-01-01"],
  ["DK", "standard", 2_500, "1992-01-01"],
  ["EE", "standard", 2_000, "2009-07-01"],
  ["EE", "standard", 2_200, "2024-01-01"],
  ["EE", "standard", 2_400, "2025-07-01"],
  ["ES", "standard", 2_100, "2012-09-01"],
  ["FI", "standard", 2_400, "2013-01-01"],
  ["FI", "standard", 2_550, "2024-09-01"],
  ["FR", "standard", 2_000, "2014-01-01"],
  ["GR", "standard", 2_400, "2016-06-01"],
  ["HR", "standard", 2_500, "2012-03-01"],
  ["HU", "standard", 2_700, "2012-01-01"],
  ["IE", "standard", 2_300, "2012-01-01"],
  ["IT", "standard", 2_200, "2013-10-01"],
  ["LT", "standard", 2_100, "2009-09-01"],
  ["LU", "standard", 1_700, "2015-01-01"],
  ["LV", "standard", 2_100, "2012-07-01"],
  ["MT", "standard", 1_800, "2004-01-01"],
  ["NL", "standard", 2_100, "2012-10-01"],
  ["PL", "standard", 2_300, "2011-01-01"],
  ["PT", "standard", 2_300, "2011-01-01"],
  ["PT", "standard", 1_600, "2021-07-01", "20"],
  ["PT", "standard", 2_200, "2012-04-01", "30"],
  ["RO", "standard", 1_900, "2017-01-01"],
  ["RO", "standard", 2_100, "2025-08-01"],
  ["SE", "standard", 2_500, "1990-07-01"],
  ["SI", "standard", 2_200, "2013-07-01"],
  ["SK", "standard", 2_000, "2011-01-01"],
  ["SK", "standard", 2_300, "2025-01-01"],
  ["GB", "standard", 2_000, "2011-01-04"],
  ["NO", "standard", 2_500, "2005-01-01"],
  ["CH", "standard", 770, "2018-01-01"],
  ["CH", "standard", 810, "2024-01-01"],
  ["AT", "reduced", 1_000, "2020-01-01"],
  ["BE", "reduced", 600, "2019-04-01"],
  ["DE", "reduced", 700, "2019-12-18"],
  ["ES", "reduced", 400, "2020-04-23"],
  ["FR", "reduced", 550, "2012-01-01"],
  ["IE", "reduced", 900, "2019-01-01"],
  ["IT", "reduced", 400, "2015-01-01"],
  ["LU", "reduced", 300, "2019-05-01"],
  ["NL", "reduced", 900, "2020-01-01"],
  ["PL", "reduced", 500, "2019-11-01"],
  ["PT", "reduced", 600, "2020-04-01"],
  ["SE", "reduced", 600, "2019-07-01"],
];

/** What the desk does to the table: a rate from a day on, or one taken out of it. */
export const taxRequest = z.object({
  do: z.enum(["set", "drop"]),
  country: z.string().regex(/^[A-Z]{2}$/, fault("choose_country")),
  /** A region's own part of its ISO 3166-2 code; empty for the whole country. */
  region: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^[A-Z0-9]{0,3}$/, fault("not_a_region"))
    .default(""),
  taxClass: z.enum(taxClasses),
  /** Percent as typed, such as `23` or `5,5`. */
  rate: z
    .string()
    .regex(/^\s*\d{1,2}([.,]\d{1,2})?\s*$/, fault("percent"))
    .or(z.literal("")),
  from: z.string().regex(/^\d{4}-\d{2}-\d{2}$/, fault("from_day_missing")),
});
export type TaxRequest = z.infer<typeof taxRequest>;

/** Basis points from typed percent. */
export const basisPoints = (typed: string): number => Math.round(Number(typed.trim().replace(",", ".")) * 100);
