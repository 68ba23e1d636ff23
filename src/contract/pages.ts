import { fault } from "../core/words";
import { z } from "zod";
import { pageKinds } from "../core/launch";
import { pageAddress, pageContent, purposes } from "../core/pages";
import { get, getFile, post, postFile, wholeDocument, wholeUpload } from "./endpoint";

const versioned = z.object({ version: z.number() });
const keyed = z.object({ key: z.string() });

/** Adds a page to a launch, as a draft, from a template. */
export const addPage = post("[slug]/page", {
  permission: "page.edit",
  request: z.object({
    address: pageAddress,
    headline: z.string().trim().max(160),
    /** A ready template, or one of the vendor's own by its id. */
    template: z.string().max(60).default("episode-read"),
    /** The page whose look it takes over; empty follows the launch. */
    lookFrom: z.string().max(80).default(""),
  }),
  answer: z.object({ id: z.string() }),
});
export const copyPage = post("pages/[id]/copy", {
  permission: "page.edit",
  request: z.object({ launch: z.string().max(80), address: pageAddress }),
  answer: z.object({ address: z.string() }),
});
export const changeAddress = post("pages/[id]/address", {
  permission: "page.edit",
  request: z.object({ address: pageAddress }),
  answer: z.object({ slug: z.string() }),
});
/** What is public leaves it: archiving asks for the permission to publish besides, in the use case. */
export const archivePage = post("pages/[id]/archive", {
  refusals: ["page_in_use", "in_use"],
  permission: "page.edit",
  request: z.object({ archived: z.boolean() }),
});
export const deletePage = post("pages/[id]/delete", { refusals: ["in_use"], permission: "page.edit" });
/** Keeps a draft as it is typed; its blocks are checked one by one by the use case, which says where one does not fit. */
export const saveDraft = post("pages/[id]/draft", {
  refusals: ["changed_meanwhile"],
  permission: "page.edit",
  request: z.object({ content: z.unknown(), version: z.number().int() }),
  answer: versioned,
  mostBytes: wholeDocument,
});
/** Says that the page is open here, and answers who else has it open. */
export const notePresence = post("pages/[id]/presence", {
  permission: "page.edit",
  answer: z.object({ others: z.array(z.string()), version: z.number() }),
});
export const publishPage = post("pages/[id]/publish", {
  refusals: ["archived", "changed_meanwhile", "no_step", "gap"],
  permission: "page.publish",
  request: z.object({ version: z.number().int().optional() }),
});
export const publishPages = post("[slug]/publish", {
  refusals: ["archived", "changed_meanwhile", "no_step", "gap"],
  permission: "page.publish",
  request: z.object({
    pages: z
      .array(z.object({ id: z.uuid(), version: z.number().int() }))
      .min(1, fault("choose_page"))
      .max(100),
  }),
  answer: z.object({ published: z.number() }),
});
export const pageVersions = get("pages/[id]/versions", {
  answer: z.object({
    versions: z.array(z.object({ version: z.number(), at: z.coerce.date(), by: z.string(), published: z.boolean(), says: z.string() })),
  }),
});
/** Brings an earlier state of a page back as its draft. */
export const restoreVersion = post("pages/[id]/restore", {
  refusals: ["changed_meanwhile"],
  permission: "page.edit",
  request: z.object({ version: z.number().int(), from: z.number().int() }),
  answer: versioned.extend({ content: pageContent }),
});
/** A private link that shows the draft. */
export const sharePreview = post("pages/[id]/share", { permission: "page.share", answer: z.object({ address: z.string() }) });

export const addVariant = post("pages/[id]/variants/add", {
  refusals: ["one_version", "enough_variants"],
  permission: "page.edit",
  answer: keyed,
});
export const dropVariant = post("pages/[id]/variants/drop", { permission: "page.edit" });
export const makeWinner = post("pages/[id]/variants/winner", {
  refusals: ["never_published"],
  permission: "page.edit",
  answer: keyed,
});
export const setWeights = post("pages/[id]/variants/weights", {
  permission: "page.edit",
  request: z.object({ weights: z.record(z.uuid(), z.number().int().min(0).max(1000)) }),
});

export const keepTemplate = post("templates", {
  permission: "page.edit",
  request: z.object({
    page: z.uuid(),
    name: z.string().trim().min(1, fault("template_name_missing")).max(80),
    purpose: z.enum(purposes),
  }),
  answer: z.object({ id: z.string(), name: z.string(), kind: z.enum(pageKinds), purpose: z.enum(purposes), content: pageContent }),
});
/** A page, or a template of the vendor's own, with its uploads, as a zip. */
export const exportPage = getFile("export/page/[id]", { permission: "launch.export" });
export const exportTemplate = getFile("export/template/[id]", { permission: "launch.export" });
export const dropTemplate = post("templates/[id]", { permission: "page.edit", request: z.object({ drop: z.literal(true) }) });

const fifth = z.number().int().min(0).max(4);
/** A picture, film or file that was uploaded. */
export const media = z.object({
  id: z.string(),
  kind: z.enum(["picture", "video", "captions", "file"]),
  name: z.string(),
  hash: z.string(),
  alt: z.string(),
  width: z.number(),
  height: z.number(),
  widths: z.array(z.number()),
  focal: z.tuple([z.number(), z.number()]),
  extension: z.string(),
  bytes: z.number(),
});
/** Takes an upload under the name that its file has. */
export const uploadMedia = postFile("media", {
  permission: "page.edit",
  request: z.object({ name: z.string().max(400).default("upload") }),
  answer: media,
  mostBytes: wholeUpload,
});
/** Changes the words of a picture, or what of it stays in sight. */
export const changeMedia = post("media/[id]", {
  permission: "page.edit",
  request: z.object({ alt: z.string().trim().max(250).optional(), focal: z.tuple([fifth, fifth]).optional() }),
  answer: media,
});

/** Shows or hides a comment, and answers it. */
export const decideComment = post("[slug]/comments", {
  permission: "comment.moderate",
  request: z.object({
    id: z.uuid(),
    state: z.enum(["shown", "hidden"]),
    reply: z.string().trim().max(2000).optional(),
  }),
});
