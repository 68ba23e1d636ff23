import type { LaunchShape, PageKind } from "../../launch";
import { blockKinds } from "../content/blockKinds";
import type { BlockType, LeafBlock } from "../content/blocks";
import { pageLeaves, type PageContent } from "../content/content";
import { plainOf } from "../content/rich";
import { hrefOf, type LinkSource } from "../content/target";
import { formsOf, targetsOf } from "../content/tree";

/** Something a page still lacks: what, why it matters, and the field where it is mended. */
export interface PageGap {
  code: string;
  /** A page with a blocking gap is not published. */
  blocking: boolean;
  block?: string;
  /** The field of the block's pane. */
  field?: string;
  says: string;
  why: string;
}

export interface GapFacts {
  key: string;
  kind: PageKind;
  source: LinkSource & { shape: LaunchShape };
  launches: string[];
  /** Products that a bump may add. */
  products?: string[];
}

/** The block without which a page of a kind cannot do its work. */
const mustHave: Partial<Record<PageKind, Exclude<BlockType, "columns">>> = { checkout: "checkout", offer: "offer", thanks: "receipt" };
/** Where blocks that need an order, or a checkout, have one. */
const onlyOn: Partial<Record<BlockType, PageKind>> = { checkout: "checkout", bump: "checkout", offer: "offer", receipt: "thanks" };

/** What a block by itself still lacks. */
export const blockGaps = (block: LeafBlock): { field: string; says: string; why: string; blocking: boolean }[] => {
  const needed = (field: string, value: string, says: string, why: string, blocking = true) => (value.trim() ? [] : [{ field, says, why, blocking }]);
  switch (block.type) {
    case "headline":
      return needed("text", block.text, "The headline is empty.", "An empty line is all that people would see of it.");
    case "text":
      return needed("rich", plainOf(block.rich), "The text is empty.", "Write it, or take the block away.", false);
    case "button":
      return needed("label", block.label, "The button says nothing.", "Nobody presses a button without words.");
    case "price":
      return needed("button", block.button, "The button of the price box says nothing.", "Nobody presses a button without words.");
    case "form":
      return needed("button", block.button, "The form's button says nothing.", "Nobody presses a button without words.");
    case "checkout":
      return needed(
        "pay",
        block.pay,
        "The order button says nothing.",
        "A buyer must read that the press is an order to pay (Directive 2011/83/EU art. 8 (2)).",
      );
    case "offer":
      return [
        ...needed("yes", block.yes, "The yes button says nothing.", "Nobody presses a button without words."),
        ...needed("no", block.no, "The no button says nothing.", "No must be as plain to read as yes."),
      ];
    case "picture": {
      const gaps = block.media
        ? []
        : [{ field: "media", says: "The picture is missing.", why: "The block shows nothing without one.", blocking: false }];
      return [
        ...gaps,
        ...(block.media && !block.decorative
          ? needed("alt", block.alt, "The picture has no words.", "Whoever cannot see it hears nothing of it (WCAG 2.2 §1.1.1).", false)
          : []),
      ];
    }
    case "video": {
      const source = block.media || block.url || block.press;
      return [
        ...(source ? [] : [{ field: "media", says: "The video has no film.", why: "The poster would lead to nothing.", blocking: false }]),
        ...(block.media && !block.captions
          ? [
              {
                field: "captions",
                says: "The film has no captions.",
                why: "Many watch without sound, and some cannot hear (WCAG 2.2 §1.2.2).",
                blocking: false,
              },
            ]
          : []),
        ...needed("label", block.label, "The film has no words that say what it shows.", "Whoever cannot see the poster hears nothing of it.", false),
      ];
    }
    case "download":
      return block.media
        ? []
        : [{ field: "media", says: "There is nothing to download.", why: "The block shows nothing without a file.", blocking: false }];
    case "testimonial":
      return [
        ...needed("quote", block.quote, "The testimonial is empty.", "An empty quotation is all that people would see of it."),
        ...needed("name", block.name, "The testimonial names nobody.", "Words of nobody convince nobody.", false),
      ];
    case "live":
      return [
        ...needed("register", block.register, "The button to register says nothing.", "Nobody presses a button without words."),
        ...needed("join", block.join, "The button to join says nothing.", "Nobody presses a button without words."),
      ];
    case "comments":
      return needed("button", block.button, "The button below the comments says nothing.", "Nobody presses a button without words.");
    case "invitation":
      return needed("button", block.button, "The invitation’s button says nothing.", "Nobody presses a button without words.");
    case "cross":
      return needed("button", block.button, "The cross-offer’s button says nothing.", "Nobody presses a button without words.");
    case "bump":
      return needed("tick", block.tick, "Nothing stands beside the bump’s box.", "A buyer must read what a tick adds to the order.");
    case "addition":
      return needed("yes", block.yes, "The yes button of the offer says nothing.", "Nobody presses a button without words.");
    case "html":
      return needed("title", block.title, "The frame has no name.", "Readers of screens say a frame's name (WCAG 2.2 §4.1.2).", false);
    default:
      return [];
  }
};

/** All that a page lacks, in reading order. */
export const pageGaps = (content: PageContent, { key, kind, source, launches, products = [] }: GapFacts): PageGap[] => {
  const leaves = pageLeaves(content);
  const gaps: PageGap[] = [];
  const episode = source.settings?.episodes.find(({ page }) => page === key);
  const must = mustHave[kind];
  if (must && !leaves.some(({ type }) => type === must)) {
    const { name } = blockKinds[must];
    gaps.push({ code: "missing_block", blocking: true, says: `The page has no block “${name}”.`, why: "Without it nobody can go on from here." });
  }
  const titles = leaves.filter((leaf) => leaf.type === "headline" && leaf.level === "title");
  if (titles.length !== 1)
    gaps.push({
      code: "titles",
      blocking: titles.length === 0,
      block: titles[1]?.id,
      field: titles[1] && "level",
      says: titles.length === 0 ? "The page has no title." : `The page has ${titles.length} titles.`,
      why: "One headline is the page's title: lists, tabs, searches and readers of screens go by it.",
    });
  for (const leaf of leaves) {
    const place = onlyOn[leaf.type];
    if (place && place !== kind)
      gaps.push({
        code: "wrong_page",
        blocking: true,
        block: leaf.id,
        says: `${blockKinds[leaf.type].name} does not work on this page.`,
        why: "It needs an order that only its own page has.",
      });
    if ((leaf.type === "bump" || leaf.type === "addition") && !products.includes(leaf.product ?? ""))
      gaps.push({
        code: "no_product",
        blocking: true,
        block: leaf.id,
        field: "product",
        says: leaf.product
          ? `The product of the block “${blockKinds[leaf.type].name}” is not there any more.`
          : `The block “${blockKinds[leaf.type].name}” sells no product yet.`,
        why: "A press or a tick beside nothing cannot be sold.",
      });
    if (leaf.type === "cross" && !launches.includes(leaf.launch))
      gaps.push({
        code: "no_launch",
        blocking: leaf.launch !== "",
        block: leaf.id,
        field: "launch",
        says: leaf.launch ? "The cross-offer’s launch is not there." : "The cross-offer names no launch yet.",
        why: "It shows nothing until it does.",
      });
    if (leaf.type === "live" && !episode?.live)
      gaps.push({
        code: "no_session",
        blocking: false,
        block: leaf.id,
        says: "The page has no live session.",
        why: "Nothing stands here until its day and its link are set on the clock, under Episodes.",
      });
    if (leaf.type === "episodes" && !episode)
      gaps.push({
        code: "not_in_run",
        blocking: false,
        block: leaf.id,
        says: "This page is not in the run of episodes.",
        why: "The list is shown, but none of it plays here.",
      });
    for (const gap of blockGaps(leaf)) gaps.push({ code: "empty", block: leaf.id, ...gap });
  }
  const forms = formsOf(content);
  for (const { block, target } of targetsOf(content)) {
    const field = block.type === "form" ? "then" : block.type === "video" ? "press" : "target";
    const at = { code: "dead_end", blocking: true, block: block.id, field };
    const name = blockKinds[block.type].name;
    if (target.to === "form") {
      const form = forms.find(({ id }) => id === target.block);
      if (!form) gaps.push({ ...at, says: `${name} opens a form that is not there.`, why: "Whoever presses it gets nowhere." });
    } else if (target.to === "launch" && !launches.includes(target.launch)) {
      gaps.push({ ...at, says: `${name} leads to a launch that is not there.`, why: "Whoever presses it gets nowhere." });
    } else {
      const href = hrefOf(source, key, target);
      if (href === undefined) gaps.push({ ...at, says: `${name} leads to a page that is not there.`, why: "Whoever presses it gets nowhere." });
      else if (href === hrefOf(source, key, { to: "page", page: key })) {
        gaps.push({ ...at, blocking: false, says: `${name} leads back to this very page.`, why: "Whoever presses it stays where they are." });
      }
    }
  }
  for (const form of forms) {
    for (const [field, key] of [
      ["checkPage", form.checkPage],
      ["confirmedPage", form.confirmedPage],
    ] as const)
      if (key && !source.pages.some((page) => page.key === key))
        gaps.push({
          code: "dead_end",
          blocking: true,
          block: form.id,
          field,
          says: "The form leads to a page that is not there.",
          why: "Whoever fills it in gets nowhere.",
        });
  }
  for (const form of forms.filter(({ over }) => over)) {
    const opened = targetsOf(content).some(({ target }) => target.to === "form" && target.block === form.id);
    if (!opened)
      gaps.push({
        code: "never_opened",
        blocking: false,
        block: form.id,
        field: "over",
        says: "Nothing opens this form.",
        why: "It stands over the page only when a button or a poster opens it.",
      });
  }
  return gaps;
};
