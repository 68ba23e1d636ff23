import { z } from "zod";
import { line, pageLeaves, plainOf, section, uniqueIds, type BlockType, type LeafBlock } from "../../pages";

/** Blocks that an email may be made of: what one column of a mail program can show. */
export const emailBlockTypes = [
  "headline",
  "text",
  "button",
  "countdown",
  "picture",
  "benefits",
  "testimonial",
  "price",
  "download",
  "partner",
  "receipt",
  "rule",
] as const satisfies readonly BlockType[];
export type EmailBlockType = (typeof emailBlockTypes)[number];

const fits = (type: BlockType): type is EmailBlockType => (emailBlockTypes as readonly BlockType[]).includes(type);

/** What an email says: the page editor's own sections and blocks, its subject, and what lists of messages show behind it. */
export const emailContent = z
  .object({
    subject: line(150),
    /** Shown behind the subject in lists of messages; empty shows the first words. */
    preheader: line(200),
    sections: z.array(section).max(20, "20 sections at most."),
    /** The plain-text part as it was written by hand; null makes it of the blocks. */
    text: line(20_000).nullable(),
  })
  .superRefine((content, context) => {
    uniqueIds(content, context);
    for (const { blocks } of content.sections)
      for (const { type } of blocks) if (!fits(type)) context.addIssue({ code: "custom", message: "This block has no place in an email." });
  });
export type EmailContent = z.infer<typeof emailContent>;

/** The words of a block that may carry fields. */
export const wordsOfBlock = (block: LeafBlock): string[] => {
  switch (block.type) {
    case "headline":
      return [block.text];
    case "text":
      return [plainOf(block.rich)];
    case "button":
      return [block.label, block.note];
    case "benefits":
      return block.items;
    case "testimonial":
      return [block.quote, block.name, block.role];
    case "picture":
      return [block.alt, block.caption];
    case "price":
      return [block.words, block.button];
    case "download":
      return [block.label];
    case "partner":
      return [block.words];
    default:
      return [];
  }
};

const textOf = (block: LeafBlock): string[] => {
  switch (block.type) {
    case "headline":
      return [block.text];
    case "text":
      return [plainOf(block.rich).replaceAll("\n", "\n\n")];
    case "button":
    case "price":
      return [`${block.type === "button" ? block.label : block.button}: {link}`];
    case "benefits":
      return [block.items.map((item) => `- ${item}`).join("\n")];
    case "testimonial":
      return [`“${block.quote}” ${block.name}`];
    default:
      return [];
  }
};

/** The words of an email's blocks with their fields: where a plain-text part that is written by hand begins. */
export const textFromBlocks = (content: Pick<EmailContent, "sections">): string => pageLeaves(content).flatMap(textOf).join("\n\n");
