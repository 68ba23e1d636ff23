import type { RichInline, RichNode, RichText } from "../../core/pages";
import { html, type Html } from "../html";

const inline = (part: RichInline): Html => {
  if (part.type === "hardBreak") return html`<br />`;
  return (part.marks ?? []).reduce<Html>(
    (inner, mark) => {
      switch (mark.type) {
        case "bold":
          return html`<strong>${inner}</strong>`;
        case "italic":
          return html`<em>${inner}</em>`;
        case "link":
          return html`<a href="${mark.attrs.href}" rel="noopener">${inner}</a>`;
      }
    },
    html`${part.text}`,
  );
};
const line = (content: RichInline[] | undefined): Html[] => (content ?? []).map(inline);

const node = (one: RichNode): Html => {
  const items = (list: { content: { content?: RichInline[] }[] }[]) =>
    list.map((item) => html`<li>${item.content.map(({ content }) => html`<p>${line(content)}</p>`)}</li>`);
  switch (one.type) {
    case "paragraph":
      return html`<p>${line(one.content)}</p>`;
    case "heading":
      return html`<h3>${line(one.content)}</h3>`;
    case "blockquote":
      return html`<blockquote>${one.content.map(({ content }) => html`<p>${line(content)}</p>`)}</blockquote>`;
    case "bulletList":
      return html`<ul>${items(one.content)}</ul>`;
    case "orderedList":
      return html`<ol>${items(one.content)}</ol>`;
  }
};

/** Rich text as HTML. Every word is escaped; only the tags written here can come out. */
export const richHtml = (rich: RichText): Html => html`${rich.content.map(node)}`;
