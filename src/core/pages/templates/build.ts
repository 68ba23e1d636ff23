import type { Block, BlockOf, BlockType, LeafBlock, Section, SpaceStep } from "../content/blocks";
import { newBlock } from "../content/blockKinds";
import type { PageContent } from "../content/content";
import { richOf } from "../content/rich";
import type { Target } from "../content/target";

/** Blocks in short words, for pages written by hand. Ids come from outside, so that no two are the same. */
export const builder = (newId: () => string) => {
  const made = <T extends BlockType>(type: T, change: Partial<BlockOf<T>>): BlockOf<T> => ({ ...(newBlock(type, newId) as BlockOf<T>), ...change });
  return {
    made,
    title: (text: string, centred = false) => made("headline", { text, level: "title", centred }),
    heading: (text: string, centred = false) => made("headline", { text, centred }),
    small: (text: string) => made("headline", { text, level: "small" }),
    lead: (text: string) => made("text", { rich: richOf(text), size: "large", space: "small" }),
    text: (text: string) => made("text", { rich: richOf(text) }),
    picture: (change: Partial<BlockOf<"picture">> = {}) => made("picture", { decorative: true, ...change }),
    form: (button: string, change: Partial<BlockOf<"form">> = {}) => made("form", { button, ...change }),
    button: (label: string, target: Target = { to: "next" }, change: Partial<BlockOf<"button">> = {}) => made("button", { label, target, ...change }),
    price: (button: string, change: Partial<BlockOf<"price">> = {}) => made("price", { button, ...change }),
    benefits: (items: string[], mark: BlockOf<"benefits">["mark"] = "stitch") => made("benefits", { items, mark }),
    questions: (items: [string, string][], folded = false) =>
      made("questions", { items: items.map(([question, answer]) => ({ question, answer })), folded }),
    columns: (left: LeafBlock[], right: LeafBlock[], change: Partial<BlockOf<"columns">> = {}) =>
      made("columns", { columns: [left, right], ...change }),
    section: (blocks: Block[], change: Partial<Section> = {}): Section => ({
      id: newId(),
      ground: "paper",
      width: "normal",
      space: "normal",
      blocks,
      ...change,
    }),
    rule: (look: BlockOf<"rule">["look"] = "thick", space: SpaceStep = "normal") => made("rule", { look, space }),
  };
};
export type Builder = ReturnType<typeof builder>;

/** A page of these sections that follows its launch's look. */
export const pageOf = (sections: Section[]): PageContent => ({ title: "", description: "", picture: null, look: null, sections });

/** Ids in a row, for pages that are written anew each time and stored with ids of their own. */
export const idsFrom = (prefix: string): (() => string) => {
  let n = 0;
  return () => `${prefix}${(n += 1)}`;
};
