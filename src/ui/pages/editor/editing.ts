import { faultOf, faultSentence } from "../../../core/words";
import type { z } from "zod";
import { type Block, type Media, type PageGap, type Tree } from "../../../core/pages";
import type { LaunchPage } from "../../../core/launch";
import type { Answer } from "../../kit/data/call";

/** A product as the editor's panes name it; the price in words. */
export interface SoldProduct {
  id: string;
  name: string;
  price: string;
}

/** What the panes of the editor work with. */
export interface Editing {
  content: Tree;
  /** Whether what a button leads to may be opened over what it stands on: a mail program opens nothing. */
  overlays: boolean;
  /** Changes a block; changes of one field, one after the other, are undone together. */
  change: (id: string, field: string, next: Partial<Block>) => void;
  media: Media[];
  /** Takes an upload or a changed one into the list. */
  onMedia: (media: Media) => void;
  pages: LaunchPage[];
  /** The run of episodes, by the keys of their pages. */
  episodes: readonly string[];
  launches: { slug: string; name: string }[];
  /** Products that a bump may add. */
  products: SoldProduct[];
  /** Makes a product for a bump, or says at which field it cannot. */
  makeProduct: (typed: { name: string; price: string }) => Promise<Answer<SoldProduct>>;
  newId: () => string;
  gaps: PageGap[];
  wrong: (block: string, field: string) => string | undefined;
}

export const newId = (): string => crypto.randomUUID().slice(0, 8);

/** What is wrong with a page or an email, by block and field; its own fields stand under "". */
export const objections = <T>(schema: z.ZodType<T>, content: T): Map<string, string> => {
  const read = schema.safeParse(content);
  const found = new Map<string, string>();
  for (const issue of read.error?.issues ?? []) {
    let at: unknown = content;
    let block = "";
    let field = "";
    for (const step of issue.path) {
      at = (at as Record<PropertyKey, unknown> | undefined)?.[step];
      if (typeof at === "object" && at !== null && "id" in at && typeof at.id === "string" && "type" in at) {
        block = at.id;
        field = "";
      } else if (field === "" && typeof step === "string" && !["sections", "blocks", "columns"].includes(step)) field = step;
    }
    if (!found.has(`${block}.${field}`)) found.set(`${block}.${field}`, faultSentence(faultOf(issue)));
  }
  return found;
};
