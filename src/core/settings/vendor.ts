import { fault } from "../words";
import { z } from "zod";
import { locales, usualLocale, type Locale } from "../money";
import { country, email } from "../people";

/** A number under which the vendor is registered for tax in a country. */
export interface TaxNumber {
  country: string;
  number: string;
}

/** Who sells: as pages, emails, receipts and the rules of tax know the vendor. */
export interface VendorDetails {
  name: string;
  /** The lines of a postal address. */
  postalAddress: string;
  /** Where the vendor is established (ISO 3166-1). */
  country: string;
  taxNumbers: TaxNumber[];
  /** Whose name and address stand as the sender of emails. */
  sender: { name: string; email: string };
  /** How the desk writes numbers. */
  locale: Locale;
}

/** One line without what would break a header or a page's title. */
const line = (most: number) =>
  z
    .string()
    .trim()
    .max(most)
    .regex(/^[^\r\n<>]*$/, fault("one_line"));

/** The name that pages and emails say. */
export const vendorName = line(120).min(1, fault("vendor_name_missing"));

/** What the desk sends to change the vendor. */
export const vendorRequest = z.object({
  version: z.number().int().nonnegative(),
  name: vendorName,
  postalAddress: z.string().trim().max(500),
  country,
  taxNumbers: z
    .array(z.object({ country, number: line(40).min(2, fault("tax_number_missing")) }))
    .max(12)
    .refine((all) => new Set(all.map((one) => one.country)).size === all.length, "One number a country."),
  senderName: line(120),
  senderEmail: email,
  locale: z.enum(locales),
});
export type VendorRequest = z.infer<typeof vendorRequest>;

/** A vendor before anything is known of it: what the environment says, or nothing. */
export const vendorAtFirst = ({ name = "", country: of = "PT", from = "" }: { name?: string; country?: string; from?: string }): VendorDetails => {
  const match = /^\s*(.*?)\s*<([^<>]+)>\s*$/.exec(from);
  return {
    name,
    postalAddress: "",
    country: of,
    taxNumbers: [],
    sender: { name: match?.[1] ?? name, email: match?.[2] ?? from },
    locale: usualLocale,
  };
};
