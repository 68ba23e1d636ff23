/** HTML that is safe to send as it is. */
export class Html {
  constructor(readonly text: string) {}
}

const escapes: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" };
const escape = (text: string): string => text.replace(/[&<>"']/g, (character) => escapes[character]!);

type Value = Html | string | number | undefined | false | Value[];
const show = (value: Value): string => {
  if (value === undefined || value === false) return "";
  if (Array.isArray(value)) return value.map(show).join("");
  return value instanceof Html ? value.text : escape(String(value));
};

/** A template whose values are escaped, unless they are `Html` themselves. */
export const html = (strings: TemplateStringsArray, ...values: Value[]): Html =>
  new Html(strings.reduce((text, part, index) => text + part + show(values[index]), ""));
