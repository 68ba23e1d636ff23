import { pageLeaves, titleOf, withoutVariant, type CompiledPage, type Look, type Media, type PageContent, type Section } from "../core/pages";
import { blockHtml, sectionClass, withBumps } from "./blocks";
import { oneFile } from "./blocks/picture";
import type { Rendering } from "./blocks/rendering";
import { HoleBook, Html, html } from "./html";
import { fontsOf, styleOf } from "./themes";

export interface PageSource {
  content: PageContent;
  /** The launch's look; a page may have its own. */
  look: Look;
  launch: { slug: string; name: string };
  key: string;
  vendor: string;
  media: (id: string | null) => Media | undefined;
  /** SHA-256 of a text, base64. */
  hash: (text: string) => string;
  /** For proofs: what stands for a block that has nothing to show yet. */
  instead?: Rendering["instead"];
  /** For proofs: no frame of the vendor's own HTML is loaded. */
  noFrames?: boolean;
}

/** Grows with every change of how pages are written: pages published under another are compiled anew at the start. */
export const rendering = "blocks-13";

const hasCountdown = (content: PageContent) => pageLeaves(content).some(({ type }) => type === "countdown");

const speaks = new Set(["form", "checkout", "offer", "receipt"]);
/** Whether a form of the page stands in sight and says itself what went wrong. */
const hasForm = (content: PageContent) => pageLeaves(content).some((leaf) => speaks.has(leaf.type) && !(leaf.type === "form" && leaf.over));

const sectionHtml = (section: Section, r: Rendering, inserts: { afterTitle?: Html; atEnd?: Html; first?: Html }): Html => {
  const within = { ...r, narrow: section.width === "narrow" };
  const blocks = withBumps(section.blocks, within).map(({ block, bumps }) => {
    const written = blockHtml(block, within, bumps);
    return block.type === "headline" && block.level === "title" ? html`${written}${inserts.afterTitle}` : written;
  });
  return html`<section class="${sectionClass(section)}"><div class="in">${inserts.first}${blocks}${inserts.atEnd}</div></section>`;
};

const titleIn = ({ blocks }: Section) => blocks.some((block) => block.type === "headline" && block.level === "title");

/** The page's body with its holes marked: what the public gets, what the desk previews, and what the editor proves. */
export const bodyHtml = ({ content, launch, vendor, ...source }: Omit<PageSource, "hash">, book: HoleBook): Html => {
  const look = content.look ?? source.look;
  const r: Rendering = {
    book,
    media: source.media,
    page: withoutVariant(source.key),
    frameHref: (block) => (source.noFrames ? "about:blank" : `/l/${launch.slug}/frame/${source.key}?b=${block}`),
    instead: source.instead,
    firstPicture: { pending: true },
    columns: 1,
    narrow: false,
  };
  const logo = source.media(look.logo);
  const kick = html`<div class="kick"><span>${logo ? html`<img src="${oneFile(logo)}" alt="${vendor}" width="${logo.width}" height="${logo.height}" />` : vendor}</span><span>${launch.name}</span></div>`;
  const own = hasCountdown(content);
  const placed = {
    ...(own ? {} : { inline: book.mark({ kind: "inline" }), card: book.mark({ kind: "card" }) }),
    notice: hasForm(content) ? undefined : book.mark({ kind: "notice" }),
  };
  const titled = content.sections.findIndex(titleIn);
  const at = Math.max(titled, 0);
  const sections = content.sections.map((section, index) =>
    sectionHtml(section, r, {
      first: index === 0 ? kick : undefined,
      afterTitle: index === at ? html`${placed.notice}${placed.inline}` : undefined,
      atEnd: index === at ? html`${titled < 0 && html`${placed.notice}${placed.inline}`}${placed.card}` : undefined,
    }),
  );
  return html`${book.mark({ kind: "bars" })}<main>${sections}</main>`;
};

/** Compiles a page into text with holes, once, at publish. */
export const compilePage = (source: PageSource): CompiledPage => {
  const { content, vendor } = source;
  const look = content.look ?? source.look;
  const style = styleOf(look);
  const book = new HoleBook();
  const title = titleOf(content);
  const page = html`<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>${title} · ${vendor}</title>${fontsOf(look)}<link rel="icon" href="/_ib/bell.svg">${book.mark({ kind: "meta" })}<style>${new Html(style)}</style></head><body>${bodyHtml(source, book)}<script src="/_ib/page.js" defer></script></body></html>`;
  const shared = source.media(content.picture);
  return {
    ...book.cut(page),
    title,
    description: content.description,
    ...(shared ? { shared: oneFile(shared) } : {}),
    styleHash: source.hash(style),
    made: rendering,
  };
};
