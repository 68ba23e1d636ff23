import { fault } from "../words";
import { z } from "zod";
import { launchSettings, launchShapes, pageKinds } from "../launch";
import { currencies } from "../money";
import { chargeTimes, productKinds, priceTerms } from "../offers";
import { line, look, pageContent, purposes } from "../pages";
import { bellEmail, emailContent, type EmailContent } from "../emails";

/** The version of the file that is written; older ones are read as long as they can be. */
export const exportVersion = 3;
export const exportFormat = "ink-bell";

const name = line(120).min(1);
/** The address of a page below its launch; the empty one is the launch's own. */
const slug = z.string().regex(/^([a-z0-9-]+(\/[a-z0-9-]+){0,2})?$/);
const key = z.string().regex(/^[a-z0-9/-]{1,80}$/);

/** The first file of an export file: what it is, and each other file with its hash, so that a damaged one is found out. */
export const exportManifest = z.object({
  format: z.literal(exportFormat, fault("not_an_export")),
  version: z.number().int().min(1).max(exportVersion, fault("newer_export")),
  kind: z.enum(["page", "template", "launch"]),
  files: z
    .array(
      z.object({
        path: z.string().regex(/^(content\.json|media\/[0-9a-f-]{36}\.[a-z0-9]{2,5})$/),
        bytes: z.number().int().min(0),
        /** SHA-256, hexadecimal. */
        sha256: z.string().regex(/^[0-9a-f]{64}$/),
      }),
    )
    .min(1)
    .max(2_000),
});
export type ExportManifest = z.infer<typeof exportManifest>;

/** Pictures, films and files that the pages name by these ids; the bytes lie beside. */
const media = z
  .array(
    z.object({
      id: z.uuid(),
      path: z.string(),
      name: line(120),
      alt: line(250),
      focal: z.tuple([z.number().int().min(0).max(4), z.number().int().min(0).max(4)]),
    }),
  )
  .max(2_000);

const page = z.object({ kind: z.enum(pageKinds), slug, content: pageContent });
const product = z.object({
  id: z.uuid(),
  name,
  privateLabel: line(120),
  description: line(2000),
  taxClass: z.string().max(40),
  refundDays: z.number().int().min(0).max(3650),
  priceMinor: z.number().int().nonnegative().max(1e12),
  currency: z.enum(currencies),
  taxMode: z.enum(["inclusive", "exclusive"]),
  // Files of before these were known leave them out.
  kind: z.enum(productKinds).default("download"),
  alone: z.boolean().default(false),
  onSale: z.boolean().default(true),
  limitPerPerson: z.number().int().min(1).nullable().default(null),
  seats: z.number().int().min(1).nullable().default(null),
  chargeWhen: z.enum(chargeTimes).default("at_once"),
  holds: z.array(z.uuid()).max(30).default([]),
  terms: priceTerms.default({ kind: "once" }),
  prices: z.partialRecord(z.enum(currencies), z.number().int().nonnegative().max(1e12)).default({}),
});
const launch = z.object({
  name,
  zone: z.string().max(60),
  shape: z.enum(launchShapes),
  settings: launchSettings,
  look,
  creditWindowDays: z.number().int().min(0).max(3650),
  recoveryDelayMinutes: z.number().int().min(0).max(100_000),
  /** What its emails say, by their keys: drafts, as they stand at the desk. */
  emails: z.record(z.string().regex(/^[a-z0-9-]{1,40}$/), emailContent).default({}),
  products: z.array(product).min(1).max(500),
  mainProduct: z.uuid(),
  pages: z
    .array(
      page.extend({
        key,
        variants: z.array(z.object({ variant: z.enum(["B", "C", "D"]), weight: z.number().int().min(0).max(1000), content: pageContent })),
      }),
    )
    .max(500),
  /** Offers in the order of the path; yes and no lead to a page's key, or to the thank-you page. */
  path: z
    .array(
      z.object({
        page: key,
        product: z.uuid(),
        kind: z.enum(["offer", "downsell"]).default("offer"),
        sure: z.boolean().default(false),
        yes: key,
        no: key,
      }),
    )
    .max(100),
});

const record = z.record(z.string(), z.unknown());
const renamed = (of: unknown, from: string, to: string): unknown => {
  const read = record.safeParse(of);
  if (!read.success || !(from in read.data) || to in read.data) return of;
  const { [from]: value, ...rest } = read.data;
  return { ...rest, [to]: value };
};

/** A launch of version 1 of the file, whose emails were called letters and whose variants were named by a `letter`, as it is written today. */
const fromVersion1 = (launch: unknown): unknown => {
  const read = record.safeParse(launch);
  if (!read.success) return launch;
  const { settings, pages } = read.data;
  const variantsOf = (of: unknown): unknown => {
    const one = record.safeParse(of);
    if (!one.success || !Array.isArray(one.data["variants"])) return of;
    return { ...one.data, variants: one.data["variants"].map((variant) => renamed(variant, "letter", "variant")) };
  };
  return { ...read.data, settings: renamed(settings, "letters", "emails"), pages: Array.isArray(pages) ? pages.map(variantsOf) : pages };
};

const wordsOfStep = z.object({ id: z.string(), subject: z.string(), text: z.string() });

/** A launch of version 2 of the file, whose emails had their words beside their times, as it is written today. */
const fromVersion2 = (launch: unknown): unknown => {
  const read = record.safeParse(launch);
  const settings = record.safeParse(read.data?.["settings"]);
  const steps = settings.data?.["emails"];
  if (!read.success || "emails" in read.data || !Array.isArray(steps)) return launch;
  const written = steps.flatMap((step): [string, EmailContent][] => {
    const one = wordsOfStep.safeParse(step);
    return one.success ? [[one.data.id, bellEmail(one.data.subject, one.data.text)]] : [];
  });
  return { ...read.data, emails: Object.fromEntries(written) };
};

/** What `content.json` of an export file holds, by the file's kind. */
export const exportContent = {
  page: z.object({ page, look, media }),
  template: z.object({ name: line(80).min(1), purpose: z.enum(purposes), kind: z.enum(pageKinds), content: pageContent, media }),
  launch: z.object({ launch: z.preprocess((read) => fromVersion2(fromVersion1(read)), launch), media }),
};
export type ExportContent = { [K in keyof typeof exportContent]: z.infer<(typeof exportContent)[K]> };
