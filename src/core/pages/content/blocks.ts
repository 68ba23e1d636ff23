import { fault } from "../../words";
import { z } from "zod";
import { richText } from "./rich";
import { outsideAddress, target } from "./target";

export const devices = ["desktop", "tablet", "phone"] as const;
export type Device = (typeof devices)[number];

/** Space above a block or inside a section, by steps and not by pixels: they keep their proportion on every width. */
export const spaceSteps = ["none", "small", "normal", "large"] as const;
export type SpaceStep = (typeof spaceSteps)[number];
export const sizeSteps = ["small", "normal", "large"] as const;

const id = z.string().regex(/^[a-z0-9-]{1,40}$/);
/** Words of the vendor. NUL and half characters have no place in any text, and the database takes none. */
export const line = (most: number) =>
  z
    .string()
    .max(most, `${most.toLocaleString("en")} characters at most.`)
    .overwrite((text) => text.replaceAll("\0", "").toWellFormed());
const mediaId = z.uuid().nullable();

const every = {
  id,
  /** Widths on which the block is not shown. */
  hide: z.array(z.enum(devices)).max(3),
  space: z.enum(spaceSteps),
};

export const ownFieldKinds = ["text", "choice", "tick"] as const;
/** A field of an opt-in form beside the address, which is always asked. */
export const formField = z.object({
  id,
  /** The person's own columns, or a field of the vendor's. */
  is: z.enum(["firstName", "lastName", "phone", "own"]),
  label: line(80),
  required: z.boolean(),
  /** How a field of the vendor's own is answered. */
  kind: z.enum(ownFieldKinds),
  choices: z.array(line(80)).max(20),
});
export type FormField = z.infer<typeof formField>;

const headline = z.object({
  ...every,
  type: z.literal("headline"),
  text: line(160),
  level: z.enum(["title", "heading", "small"]),
  centred: z.boolean(),
});
const text = z.object({ ...every, type: z.literal("text"), rich: richText, size: z.enum(sizeSteps) });
const picture = z.object({
  ...every,
  type: z.literal("picture"),
  media: mediaId,
  alt: line(250),
  /** Only an ornament: readers of screens pass over it. */
  decorative: z.boolean(),
  shape: z.enum(["own", "wide", "square", "tall"]),
  caption: line(200),
});
const video = z.object({
  ...every,
  type: z.literal("video"),
  /** A film that was uploaded, or an address of one. */
  media: mediaId,
  url: outsideAddress.nullable(),
  poster: mediaId,
  captions: mediaId,
  /** What the film shows, in words. */
  label: line(160),
  /** Where a press leads instead of playing: a form over the page, for an opt-in over a video poster. */
  press: target.nullable(),
});
const form = z.object({
  ...every,
  type: z.literal("form"),
  /** In its place, or opened over the page by a button or a poster. */
  over: z.boolean(),
  heading: line(160),
  fields: z.array(formField).max(8),
  button: line(60),
  note: line(300),
  /** The sentence beside the box, where it is not the usual one of the person's country. */
  consent: line(400),
  /** Whether the address is confirmed from its inbox before it counts. */
  double: z.enum(["always", "where_needed", "never"]),
  /** The page that says to look into the inbox, and the one after the confirmation; empty says it in place of the form. */
  checkPage: line(80),
  confirmedPage: line(80),
  /** Where those on the list go on to; null stays on the page. */
  then: target.nullable(),
  /** What they are given: a file, by a link on the page and in the email. */
  gift: mediaId,
});
const button = z.object({
  ...every,
  type: z.literal("button"),
  label: line(60),
  target,
  look: z.enum(["main", "plain"]),
  note: line(200),
});
const countdown = z.object({ ...every, type: z.literal("countdown"), form: z.enum(["inline", "card"]) });
/** Whether the price that was asked before is struck through, where the law lets it be. */
const strike = z.boolean().optional();
const price = z.object({ ...every, type: z.literal("price"), words: line(200), button: line(60), target, strike });
const seats = z.object({ ...every, type: z.literal("seats"), words: line(120) });
const offer = z.object({ ...every, type: z.literal("offer"), yes: line(60), no: line(60), strike });
const testimonial = z.object({ ...every, type: z.literal("testimonial"), quote: line(1200), name: line(80), role: line(120), media: mediaId });
const benefits = z.object({
  ...every,
  type: z.literal("benefits"),
  items: z.array(line(300)).max(40),
  mark: z.enum(["stitch", "number", "rule"]),
});
const questions = z.object({
  ...every,
  type: z.literal("questions"),
  items: z.array(z.object({ question: line(200), answer: line(2000) })).max(60),
  folded: z.boolean(),
});
const rule = z.object({ ...every, type: z.literal("rule"), look: z.enum(["hair", "thick", "double"]) });
const badges = z.object({ ...every, type: z.literal("badges"), items: z.array(line(60)).max(8) });
const guarantee = z.object({ ...every, type: z.literal("guarantee"), heading: line(120), words: line(600) });
const html = z.object({ ...every, type: z.literal("html"), title: line(120), code: line(20_000), height: z.enum(sizeSteps) });
const download = z.object({ ...every, type: z.literal("download"), media: mediaId, label: line(80) });
const checkout = z.object({
  ...every,
  type: z.literal("checkout"),
  start: line(60),
  pay: line(60),
  /** Everything on one page, or the address first. */
  steps: z.enum(["one", "two"]).optional(),
  /** Whether buyers say how many they want. */
  quantity: z.boolean().optional(),
  /** The terms that a buyer agrees to; empty asks for nothing. */
  terms: outsideAddress.or(z.literal("")).optional(),
});
const receipt = z.object({ ...every, type: z.literal("receipt") });
/** The run of the launch: which episode plays, which are open, when the next one opens. */
const episodes = z.object({ ...every, type: z.literal("episodes"), heading: line(120) });
/** The live session of the episode: a place to register, the way in, and its recording afterwards. */
const live = z.object({
  ...every,
  type: z.literal("live"),
  heading: line(160),
  register: line(60),
  note: line(300),
  double: form.shape.double,
  join: line(60),
  /** The recording: a film that was uploaded, or an address of one. */
  media: mediaId,
  url: outsideAddress.nullable(),
  captions: mediaId,
});
/** What people say, read by the vendor before it is shown: of this page, or of every page of the run. */
const comments = z.object({
  ...every,
  type: z.literal("comments"),
  heading: line(120),
  scope: z.enum(["page", "run"]),
  ask: line(200),
  button: line(60),
});
/** A small addition to the order, never ticked beforehand. */
const bump = z.object({
  ...every,
  type: z.literal("bump"),
  product: z.uuid().nullable(),
  heading: line(120),
  words: line(600),
  tick: line(120),
  media: mediaId,
  strike,
});
/** An offer before the payment, or to whoever has bought: a product added to the order, or bought by itself. */
const addition = z.object({
  ...every,
  type: z.literal("addition"),
  product: z.uuid().nullable(),
  heading: line(120),
  words: line(600),
  yes: line(60),
  /** Leads on without it; empty shows no second button. */
  no: line(60),
  media: mediaId,
  strike,
});
/** Asks readers to become partners. */
const invitation = z.object({ ...every, type: z.literal("invitation"), heading: line(120), words: line(600), button: line(60) });
/** Another launch of the vendor, shown while it can be bought. */
const cross = z.object({ ...every, type: z.literal("cross"), launch: z.string().max(80), words: line(400), button: line(60), media: mediaId });
/** The word of the partner who sent this person. */
const partner = z.object({ ...every, type: z.literal("partner"), words: line(120) });

/** Blocks that stand anywhere, in a column as well. */
const leaves = [
  headline,
  text,
  picture,
  video,
  form,
  button,
  countdown,
  price,
  seats,
  offer,
  testimonial,
  benefits,
  questions,
  rule,
  badges,
  guarantee,
  html,
  download,
  checkout,
  receipt,
  episodes,
  live,
  comments,
  bump,
  addition,
  invitation,
  cross,
  partner,
] as const;
export const leafBlock = z.discriminatedUnion("type", leaves);
export type LeafBlock = z.infer<typeof leafBlock>;

const columns = z.object({
  ...every,
  type: z.literal("columns"),
  ratio: z.enum(["even", "left", "right"]),
  columns: z.array(z.array(leafBlock).max(40)).min(2, fault("two_columns")).max(3, fault("three_columns")),
  /** On a phone the last column comes first. */
  lastFirst: z.boolean(),
});

export const block = z.discriminatedUnion("type", [...leaves, columns]);
export type Block = z.infer<typeof block>;
export type BlockType = Block["type"];
export type BlockOf<T extends BlockType> = Extract<Block, { type: T }>;

export const section = z.object({
  id,
  ground: z.enum(["paper", "sunk", "second", "accent"]),
  width: z.enum(["narrow", "normal", "full"]),
  space: z.enum(spaceSteps),
  blocks: z.array(block).max(300, "300 blocks in a section at most."),
});
export type Section = z.infer<typeof section>;
