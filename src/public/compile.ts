import type { CompiledPage, Hole, PageContent } from "../core/pages";
import type { PageKind } from "../core/launch";
import { broadsideCss } from "./broadside";
import { Html, html } from "./html";
import { knitChart } from "./knitChart";

interface PageSource {
  kind: PageKind;
  content: PageContent;
  launch: { name: string };
  vendor: string;
}

// Cannot occur in escaped text, so a vendor's words can never open a hole.
const mark = (hole: Hole) => new Html(`<!--hole:${hole}-->`);

/** Compiles a page's words in the Broadside theme into text with holes, once, at publish. */
export const compilePage = ({ kind, content, launch, vendor }: PageSource): CompiledPage => {
  const narrow = kind === "checkout" || kind === "thanks";
  const page = html`<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>${content.headline} · ${vendor}</title><link rel="preload" href="/_ib/fonts/besley.woff2" as="font" type="font/woff2" crossorigin><link rel="preload" href="/_ib/fonts/archivo.woff2" as="font" type="font/woff2" crossorigin><link rel="icon" href="/_ib/bell.svg"><style>${new Html(broadsideCss)}</style></head><body>${mark("bars")}<main class="sheet"><div class="kick"><span>${vendor}</span><span>${launch.name}</span></div><h1>${content.headline}</h1>${mark("inline")}<div class="cols${narrow ? " form-first" : ""}"><div><p class="lead">${content.text}</p>${mark("price")}${mark("notice")}${mark("form")}</div><div>${mark("card")}<div class="fig">${knitChart()}</div></div></div></main><script src="/_ib/page.js" defer></script></body></html>`;
  const parts: string[] = [];
  const holes: Hole[] = [];
  let rest = page.text;
  for (let match = /<!--hole:(\w+)-->/.exec(rest); match; match = /<!--hole:(\w+)-->/.exec(rest)) {
    parts.push(rest.slice(0, match.index));
    holes.push(match[1] as Hole);
    rest = rest.slice(match.index + match[0].length);
  }
  parts.push(rest);
  return { parts, holes };
};
