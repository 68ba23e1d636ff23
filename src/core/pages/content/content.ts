import { z } from "zod";
import type { LaunchPlan, PageKind } from "../../launch";
import { line, section, type Block, type BlockType, type BlockOf, type LeafBlock, type Section } from "./blocks";
import { look } from "./look";

/** What is made of sections: a page, or an email. */
export interface Tree {
  sections: Section[];
}

/** Refuses a tree two parts of which have one id. */
export function uniqueIds({ sections }: Tree, context: z.RefinementCtx): void {
  const seen = new Set<string>();
  for (const one of sections) {
    const ids = [one.id, ...leavesOf(one.blocks).map(({ id }) => id), ...one.blocks.filter(({ type }) => type === "columns").map(({ id }) => id)];
    for (const id of ids) {
      if (seen.has(id)) context.addIssue({ code: "custom", message: `Two parts have the id "${id}".` });
      seen.add(id);
    }
  }
}

/** What a page says: sections of blocks, in order, and what searches and shared links show of it. */
export const pageContent = z
  .object({
    /** For the browser's tab and shared links; empty takes the headline. */
    title: line(120),
    description: line(300),
    /** Shown where the page is shared. */
    picture: z.uuid().nullable(),
    /** A look of this page's own; without one it follows the launch's. */
    look: look.nullable(),
    sections: z.array(section).max(40, "40 sections at most."),
  })
  .superRefine(uniqueIds);
export type PageContent = z.infer<typeof pageContent>;

/** The blocks that stand for themselves, those inside columns in their place. */
export const leavesOf = (blocks: readonly Block[]): LeafBlock[] => blocks.flatMap((one) => (one.type === "columns" ? one.columns.flat() : [one]));

/** Every block of a page or an email in reading order, those inside columns included, columns themselves not. */
export const pageLeaves = ({ sections }: Tree): LeafBlock[] => sections.flatMap(({ blocks }) => leavesOf(blocks));

/** The page's first block of a type. */
export const firstBlock = <T extends Exclude<BlockType, "columns">>(content: PageContent, type: T): BlockOf<T> | undefined =>
  pageLeaves(content).find((one): one is BlockOf<T> & LeafBlock => one.type === type);

/** What a page is called in lists: its first headline. */
export const headlineOf = (content: PageContent): string => firstBlock(content, "headline")?.text ?? "";
/** What the browser's tab and a shared link say. */
export const titleOf = (content: PageContent): string => content.title || headlineOf(content);

export const pageNames: Record<PageKind, string> = {
  optin: "Opt-in",
  sales: "Sales",
  checkout: "Checkout",
  offer: "One-time offer",
  thanks: "Thank you",
  closed: "Closed",
  content: "Content",
};

/** Pages that must be published before anything may be charged. */
export const neededToCharge: PageKind[] = ["sales", "checkout", "thanks"];

/** Whether a launch sells at all: one that collects addresses does once a checkout was added. */
export const sells = ({ shape, pages }: Pick<LaunchPlan, "shape" | "pages">): boolean =>
  shape !== "list" || pages.some(({ kind }) => kind === "checkout");

/** Kinds that stop a launch from charging because they are not published. A launch that stops at the opt-in never charges, so it misses nothing. */
export const missingToCharge = ({ shape, pages }: Pick<LaunchPlan, "shape" | "pages">): PageKind[] =>
  !sells({ shape, pages }) ? [] : neededToCharge.filter((kind) => !pages.some((page) => page.kind === kind && page.published));
