import { mediaHref, type Media } from "../../core/pages";
import { html, type Html } from "../html";
import type { Rendering } from "./rendering";

const srcset = (media: Media, format: string) => media.widths.map((width) => `${mediaHref(media, `${width}.${format}`)} ${width}w`).join(", ");

/** The file for a place that takes one address only. */
export const oneFile = (media: Media, format = "webp"): string =>
  mediaHref(media, `${media.widths.find((width) => width >= 900) ?? media.widths.at(-1)!}.${format}`);

/** A picture in its modern formats and widths, its size named so that nothing moves when it comes. */
export const pictureTag = (media: Media, alt: string, r: Rendering): Html => {
  const first = r.firstPicture.pending;
  r.firstPicture.pending = false;
  const full = r.narrow ? 640 : 992;
  const sizes = `(min-width:901px) ${Math.round(full / r.columns)}px, (min-width:601px) ${r.columns > 1 ? "50vw" : "100vw"}, 100vw`;
  return html`<picture
    ><source type="image/avif" srcset="${srcset(media, "avif")}" sizes="${sizes}" /><img
      src="${oneFile(media)}"
      srcset="${srcset(media, "webp")}"
      sizes="${sizes}"
      width="${media.width}"
      height="${media.height}"
      alt="${alt}" ${first ? html`fetchpriority="high"` : html`loading="lazy" decoding="async"`}
  /></picture>`;
};

/** The class that keeps the focal point of a picture in sight. */
export const focalClass = ({ focal: [x, y] }: Media): string => `fx${x} fy${y}`;
