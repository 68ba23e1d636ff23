import { mediaHref, type Block, type BlockOf, type LeafBlock, type Section, type Target } from "../../core/pages";
import { html, type Html } from "../html";
import { focalClass, oneFile, pictureTag } from "./picture";
import type { Rendering } from "./rendering";
import { richHtml } from "./richHtml";

const spaces = { none: 0, small: 1, normal: 2, large: 3 } as const;
const steps = ({ hide, space }: Block): string => [`s${spaces[space]}`, ...hide.map((device) => `h${device[0]}`)].join(" ");

/** A link whose address is found out when the launch is loaded. */
const link = (r: Rendering, to: Target, classes: string, inside: Html | string): Html =>
  html`<a class="${classes}"${r.book.mark({ kind: "href", to })}>${inside}</a>`;

const headline = ({ text, level, centred }: BlockOf<"headline">): Html => {
  const inside = centred ? html` class="c"` : undefined;
  if (level === "title") return html`<h1${inside}>${text}</h1>`;
  return level === "heading" ? html`<h2${inside}>${text}</h2>` : html`<h3${inside}>${text}</h3>`;
};

const picture = (block: BlockOf<"picture">, r: Rendering): Html | undefined => {
  const media = r.media(block.media);
  if (!media) return undefined;
  return html`<figure class="${block.shape === "own" ? "" : `cut a-${block.shape} ${focalClass(media)}`}"
    >${pictureTag(media, block.decorative ? "" : block.alt, r)}${block.caption && html`<figcaption>${block.caption}</figcaption>`}</figure
  >`;
};

const video = (block: BlockOf<"video">, r: Rendering): Html | undefined => {
  const poster = r.media(block.poster);
  const film = r.media(block.media);
  if (block.press) {
    const inside = html`${poster && pictureTag(poster, "", r)}<span class="sr">${block.label || "Open"}</span>`;
    return link(r, block.press, "film press", inside);
  }
  const source = film ? mediaHref(film, `film.${film.extension}`) : block.url;
  if (!source) return poster && html`<div class="film">${pictureTag(poster, block.label, r)}</div>`;
  const captions = r.media(block.captions);
  r.firstPicture.pending = false;
  return html`<div class="film">
    <video controls preload="none" playsinline data-film="${r.page} ${block.id}" aria-label="${block.label}"${poster && html` poster="${oneFile(poster)}"`} src="${source}">${
      captions && html`<track kind="captions" srclang="en" label="Captions" src="${mediaHref(captions, "captions.vtt")}" default />`
    }</video>
  </div>`;
};

const testimonial = ({ quote, name, role, media }: BlockOf<"testimonial">, r: Rendering): Html => {
  const face = r.media(media);
  return html`<figure class="say">${face && pictureTag(face, "", { ...r, columns: 8 })}<blockquote>${quote}</blockquote>${
    (name || role) && html`<figcaption>${name && html`<strong>${name}</strong>`}${name && role && ", "}${role}</figcaption>`
  }</figure>`;
};

const questions = ({ items, folded }: BlockOf<"questions">): Html =>
  folded
    ? html`<div class="qf">${items.map(({ question, answer }) => html`<details><summary>${question}</summary><p>${answer}</p></details>`)}</div>`
    : html`<dl class="qa">${items.map(({ question, answer }) => html`<div><dt>${question}</dt><dd>${answer}</dd></div>`)}</dl>`;

const own = (block: BlockOf<"html">, r: Rendering): Html =>
  html`<iframe class="own z-${block.height}" title="${block.title}" src="${r.frameHref(block.id)}" sandbox="allow-scripts allow-forms allow-popups" loading="lazy"></iframe>`;

const download = ({ media, label }: BlockOf<"download">, r: Rendering): Html | undefined => {
  const file = r.media(media);
  return file && html`<a class="plain" href="${mediaHref(file, `file.${file.extension}`)}" download="${file.name}">${label}</a>`;
};

const inner = (block: LeafBlock, r: Rendering, bumps: BlockOf<"bump">[]): Html | undefined => {
  switch (block.type) {
    case "headline":
      return headline(block);
    case "text":
      return html`<div class="rt z-${block.size}">${richHtml(block.rich)}</div>`;
    case "picture":
      return picture(block, r);
    case "video":
      return video(block, r);
    case "form":
      return r.book.mark({ kind: "form", block, ...gift(block, r) });
    case "button":
      return html`${link(r, block.target, block.look === "main" ? "go" : "plain", block.label)}${block.note && html`<p class="fine c">${block.note}</p>`}`;
    case "countdown":
      return r.book.mark({ kind: "countdown", form: block.form });
    case "price":
      return html`<div class="box">${r.book.mark({ kind: "price", block })}${link(r, block.target, "go", block.button)}</div>`;
    case "seats":
      return r.book.mark({ kind: "seats", words: block.words });
    case "offer":
      return r.book.mark({ kind: "offer", block });
    case "testimonial":
      return testimonial(block, r);
    case "benefits":
      return html`<ul class="ben m-${block.mark}">${block.items.filter(Boolean).map((item) => html`<li>${item}</li>`)}</ul>`;
    case "questions":
      return questions(block);
    case "rule":
      return html`<hr class="l-${block.look}" />`;
    case "badges":
      return html`<ul class="badges">${block.items.filter(Boolean).map((item) => html`<li>${item}</li>`)}</ul>`;
    case "guarantee":
      return html`<div class="guar">${block.heading && html`<h3>${block.heading}</h3>`}<p><strong>${r.book.mark({ kind: "refundDays" })}</strong> ${block.words}</p></div>`;
    case "html":
      return own(block, r);
    case "download":
      return download(block, r);
    case "checkout":
      return r.book.mark({
        kind: "checkout",
        block,
        ...(bumps.length > 0 ? { bumps: bumps.map((bump) => ({ block: bump, classes: steps(bump), ...pictured(bump, r) })) } : {}),
      });
    case "receipt":
      return r.book.mark({ kind: "receipt" });
    case "bump":
      return r.book.mark({ kind: "bump", block, ...pictured(block, r) });
    case "addition":
      return r.book.mark({ kind: "addition", block, ...pictured(block, r) });
    case "invitation":
      return r.book.mark({ kind: "invitation", block });
    case "cross":
      return r.book.mark({ kind: "cross", block, ...pictured(block, r) });
    case "partner":
      return r.book.mark({ kind: "partner", words: block.words });
    case "episodes":
      return r.book.mark({ kind: "episodes", heading: block.heading });
    case "live":
      return r.book.mark({ kind: "live", block, ...recording(block, r) });
    case "comments":
      return r.book.mark({ kind: "comments", block });
  }
};

/** What a form gives, by the name and address of its file. */
const gift = ({ gift: id }: BlockOf<"form">, r: Rendering) => {
  const file = r.media(id);
  return file ? { gift: { name: file.name, href: mediaHref(file, `file.${file.extension}`) } } : {};
};

/** A small picture that a hole carries, by its address. */
const pictured = ({ media: id }: { media: string | null }, r: Rendering) => {
  const media = r.media(id);
  return media ? { picture: mediaHref(media, `${media.widths[0]!}.webp`) } : {};
};

/** The recording of a live session, by its address. */
const recording = ({ media, url, captions: id }: BlockOf<"live">, r: Rendering) => {
  const film = r.media(media);
  const captions = r.media(id);
  const source = film ? mediaHref(film, `film.${film.extension}`) : url;
  return { ...(source ? { film: source } : {}), ...(captions ? { captions: mediaHref(captions, "captions.vtt") } : {}) };
};

/**
 * The blocks of a column. Bumps right behind the order form stand in it, between the sums and the card: what comes after
 * the press that pays is read too late. While a page is edited they stand where they are, to be taken hold of.
 */
export const withBumps = <B extends Block>(blocks: B[], { instead }: Rendering): { block: B; bumps: BlockOf<"bump">[] }[] => {
  const out: { block: B; bumps: BlockOf<"bump">[] }[] = [];
  let open = false;
  for (const block of blocks) {
    if (open && block.type === "bump") out.at(-1)!.bumps.push(block);
    else {
      open = block.type === "checkout" && !instead;
      out.push({ block, bumps: [] });
    }
  }
  return out;
};

/** A block with its space and its hidden widths. A block that has nothing to show leaves no trace. */
export const blockHtml = (block: Block, r: Rendering, bumps: BlockOf<"bump">[] = []): Html | undefined => {
  if (block.type === "columns") {
    const within = { ...r, columns: block.columns.length };
    const columns = block.columns.map(
      (inside) => html`<div class="col">${withBumps(inside, within).map((one) => blockHtml(one.block, within, one.bumps))}</div>`,
    );
    const classes = [block.columns.length === 3 ? "n3" : `r-${block.ratio}`, block.lastFirst ? "last" : ""].join(" ");
    return html`<div class="b ${steps(block)}" data-b="${block.id}"><div class="cols ${classes}">${columns}</div></div>`;
  }
  const inside = inner(block, r, bumps) ?? r.instead?.(block);
  return inside && html`<div class="b ${steps(block)}" data-b="${block.id}">${inside}</div>`;
};

/** The classes of a section: its ground, width and space. */
export const sectionClass = ({ ground, width, space }: Section): string => `sec g-${ground} w-${width} p${spaces[space]}`;
