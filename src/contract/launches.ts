import { fault } from "../core/words";
import { z } from "zod";
import { launchSettings, newLaunchRequest } from "../core/launch";
import { look } from "../core/pages";
import { getFile, nothing, post, postFile, wholeDocument, wholeExportFile } from "./endpoint";

const archiving = z.object({ archived: z.boolean() });
const created = z.object({ slug: z.string(), remarks: z.array(z.string()) });

export const createLaunch = post("launches", { permission: "launch.edit", request: newLaunchRequest, answer: created });
export const copyLaunch = post("[slug]/copy", {
  permission: "launch.edit",
  request: z.object({
    name: z.string().trim().min(1, fault("copy_name_missing")).max(120),
    /** `dates`: the same launch on other dates. `always_on`: a clock for each person instead. */
    as: z.enum(["dates", "always_on"]),
    opensWall: z.string().default(""),
  }),
  answer: created,
});
export const archiveLaunch = post("[slug]/archive", {
  refusals: ["doors_open", "doors_will_open", "always_on", "changed_meanwhile"],
  permission: "launch.edit",
  request: archiving,
});
export const deleteLaunch = post("[slug]/delete", { refusals: ["launch_in_use"], permission: "launch.edit" });

/** A whole launch with its pages, products and uploads, as a zip. */
export const exportLaunch = getFile("export/launch/[slug]", { permission: "launch.export" });
/** Imports a page, a template or a launch from a file that was exported here or on another desk. */
export const importFile = postFile("import", {
  permission: "launch.import",
  request: z.object({
    /** The launch that a page is brought into; empty where a launch is expected. */
    launch: z.string().max(80).default(""),
    /** Where the page will stand; empty takes the address it had. */
    address: z.string().max(120).default(""),
  }),
  /** Where the import is shown; a template has no screen of its own. */
  answer: z.object({ kind: z.enum(["page", "template", "launch"]), href: z.string().optional() }),
  mostBytes: wholeExportFile,
});

const proposed = z.object({ settings: launchSettings });
const instant = z.coerce.date();
const warning = z.discriminatedUnion("code", [
  z.object({ code: z.literal("closing_earlier"), people: z.number() }),
  z.object({ code: z.literal("closing_later"), people: z.number() }),
  z.object({ code: z.literal("opening_moved"), people: z.number() }),
  z.object({ code: z.literal("more_seats"), from: z.number(), to: z.number().nullable() }),
  z.object({ code: z.literal("price_falls"), fromMinor: z.number(), toMinor: z.number(), buyers: z.number() }),
]);

/** What a change of a launch's settings would do, in numbers. */
export const summariseChange = post("[slug]/clock/summary", {
  request: proposed,
  answer: z.object({
    moved: z.array(z.object({ key: z.string(), label: z.string(), from: instant.optional(), to: instant.optional() })),
    sequences: z.array(z.object({ name: z.string(), is: z.enum(["added", "changed", "removed"]) })),
    sender: z.string().nullable().optional(),
    countdowns: z.array(z.object({ minutes: z.number(), people: z.number() })),
    reopened: z.number(),
    told: z.number().optional(),
    shut: z.number(),
    warnings: z.array(warning),
  }),
  mostBytes: wholeDocument,
});
export const changeSettings = post("[slug]/clock/change", {
  refusals: ["archived", "changed_meanwhile"],
  permission: "launch.edit",
  request: proposed.extend({
    /** The version the desk started from. */
    version: z.number().int(),
    what: z.string().trim().min(1).max(160),
  }),
  answer: z.object({ version: z.number() }),
  mostBytes: wholeDocument,
});
/** Brings back what was before the newest change, and says what was undone. */
export const undoChange = post("[slug]/clock/undo", {
  refusals: ["archived", "changed_meanwhile", "nothing_to_undo"],
  permission: "launch.edit",
  answer: z.object({ what: z.string(), settings: launchSettings, version: z.number() }),
});
/** The secret with which an outside tool starts people's clocks. */
export const clockSecret = post("[slug]/clock/secret", {
  permission: "launch.secret",
  request: z.object({ renew: z.boolean().default(false) }),
  answer: z.object({ secret: z.string() }),
});

/** Changes the look of a launch; how many published pages show it from now on. */
export const setLook = post("[slug]/look", {
  refusals: ["archived"],
  permission: "page.edit",
  request: look,
  answer: z.object({ pages: z.number() }),
});

export const setRecoveryDelay = post("[slug]/delay", {
  permission: "recovery.edit",
  request: z.object({
    minutes: z.coerce.number().int().min(1).max(10_080),
  }),
  answer: nothing,
});
