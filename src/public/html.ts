import type { Hole } from "../core/pages";

/** HTML that is safe to send as it is. */
export class Html {
  constructor(readonly text: string) {}
}

const escapes: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;", "\u0000": "" };
/** Text as it stands in HTML, in an attribute as well. */
export const escapeHtml = (text: string): string => text.replace(/[&<>"'\u0000]/g, (character) => escapes[character]!);

type Value = Html | string | number | undefined | false | Value[];
const show = (value: Value): string => {
  if (value === undefined || value === false) return "";
  if (Array.isArray(value)) return value.map(show).join("");
  return value instanceof Html ? value.text : escapeHtml(String(value));
};

/** A template whose values are escaped, unless they are `Html` themselves. */
export const html = (strings: TemplateStringsArray, ...values: Value[]): Html =>
  new Html(strings.reduce((text, part, index) => text + part + show(values[index]), ""));

/** A sentence in which `<a>…</a>` is a link to an address. */
export const linked = (sentence: string, href: string, more?: Html): Html => {
  const [before = "", words = "", after = ""] = sentence.split(/<\/?a>/);
  return html`${before}<a href="${href}"${more}>${words}</a>${after}`;
};

/** Text between holes: `parts[0]`, hole, `parts[1]`, hole, … */
export interface Cut<H> {
  parts: string[];
  holes: H[];
}

/** Text between holes, while a page is being written. A hole stands in the text as its number between two NULs, which no value can contain. */
export class HoleBook<H = Hole> {
  readonly holes: H[] = [];
  /** A place that is filled later. */
  mark(hole: H): Html {
    this.holes.push(hole);
    return new Html(`\u0000${this.holes.length - 1}\u0000`);
  }
  /** Cuts a written text at its holes. */
  cut({ text }: Html): Cut<H> {
    const pieces = text.split("\u0000");
    return {
      parts: pieces.filter((_, index) => index % 2 === 0),
      holes: pieces.filter((_, index) => index % 2 === 1).map((n) => this.holes[Number(n)]!),
    };
  }
}
