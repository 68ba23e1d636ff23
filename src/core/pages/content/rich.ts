import { fault } from "../../words";
import { z } from "zod";
import { outsideAddress } from "./target";

/**
 * Rich text as a closed tree, never as HTML: what is not in this schema cannot be stored, and rendering escapes every
 * word, so a pasted script has nowhere to stand. The shape is that of the editor's document (ProseMirror JSON).
 */
const mark = z.discriminatedUnion("type", [
  z.object({ type: z.literal("bold") }),
  z.object({ type: z.literal("italic") }),
  z.object({ type: z.literal("link"), attrs: z.object({ href: outsideAddress }) }),
]);
export type RichMark = z.infer<typeof mark>;

const words = z.object({
  type: z.literal("text"),
  text: z
    .string()
    .min(1)
    .max(20_000)
    .overwrite((text) => text.replaceAll("\0", " ").toWellFormed()),
  marks: z.array(mark).max(3).optional(),
});
const lineBreak = z.object({ type: z.literal("hardBreak") });
const inline = z.discriminatedUnion("type", [words, lineBreak]);
export type RichInline = z.infer<typeof inline>;

const paragraph = z.object({ type: z.literal("paragraph"), content: z.array(inline).max(500).optional() });
const heading = z.object({ type: z.literal("heading"), content: z.array(inline).max(100).optional() });
const listItem = z.object({ type: z.literal("listItem"), content: z.array(paragraph).max(50) });
const bulletList = z.object({ type: z.literal("bulletList"), content: z.array(listItem).max(200) });
const orderedList = z.object({ type: z.literal("orderedList"), content: z.array(listItem).max(200) });
const quote = z.object({ type: z.literal("blockquote"), content: z.array(paragraph).max(50) });
const node = z.discriminatedUnion("type", [paragraph, heading, bulletList, orderedList, quote]);
export type RichNode = z.infer<typeof node>;

export const richText = z.object({ type: z.literal("doc"), content: z.array(node).max(400, fault("text_long")) });
export type RichText = z.infer<typeof richText>;

/** Plain words as rich text: an empty line begins a new paragraph. */
export const richOf = (plain: string): RichText => ({
  type: "doc",
  content: plain
    .split(/\n\s*\n/)
    .map((part) => part.trim())
    .filter(Boolean)
    .map((text) => ({ type: "paragraph" as const, content: [{ type: "text" as const, text }] })),
});

/** The words of a rich text without their form, one line a paragraph. */
export const plainOf = (rich: RichText): string => {
  const lines: string[] = [];
  const inlineWords = (content: RichInline[] = []) => content.map((part) => (part.type === "text" ? part.text : "\n")).join("");
  for (const one of rich.content) {
    if (one.type === "paragraph" || one.type === "heading") lines.push(inlineWords(one.content));
    else if (one.type === "blockquote") lines.push(...one.content.map(({ content }) => inlineWords(content)));
    else lines.push(...one.content.map(({ content }) => content.map((part) => inlineWords(part.content)).join(" ")));
  }
  return lines.join("\n").trim();
};
