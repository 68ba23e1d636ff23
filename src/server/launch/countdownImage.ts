import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import * as fontkit from "fontkit";
import sharp from "sharp";
import type { LaunchView } from "../../core/launch";

export interface ImageWords {
  /** `2 days 4 h 17 min`; undefined where nothing is counted. */
  figure?: string;
  sentence: string;
  stage?: { look: string; words: string };
}

/** Time left as a picture can say it: in whole minutes, rounded down, so that it never promises more than is left. */
export const figureInMinutes = (ms: number): string => {
  const minutes = Math.max(0, Math.floor(ms / 60_000));
  const [days, hours] = [Math.floor(minutes / 1440), Math.floor(minutes / 60) % 24];
  return [days > 0 ? `${days} ${days === 1 ? "day" : "days"}` : "", days > 0 || hours > 0 ? `${hours} h` : "", `${minutes % 60} min`]
    .filter(Boolean)
    .join(" ");
};

/** Milliseconds until the picture of a countdown says something else. */
export const imageAge = (countdown: LaunchView["countdown"], now: Date): number =>
  countdown ? Math.max(1_000, (countdown.until.getTime() - now.getTime()) % 60_000 || 60_000) : 60_000;

const load = (family: string): fontkit.Font => {
  const file = createRequire(import.meta.url).resolve(`@fontsource-variable/${family}/files/${family}-latin-wght-normal.woff2`);
  return fontkit.create(readFileSync(file)) as fontkit.Font;
};
let fonts: { figure: fontkit.Font; text: fontkit.Font } | undefined;

/** Text as outlines: the picture looks the same on every machine, whatever fonts it has. A stroke makes it bold. */
const outlines = (font: fontkit.Font, text: string, x: number, y: number, size: number, colour: string, bold = 0): { svg: string; width: number } => {
  const scale = size / font.unitsPerEm;
  const run = font.layout(text);
  let at = 0;
  const paths = run.glyphs.map((glyph, index) => {
    const path = `<path transform="translate(${at} 0)" d="${glyph.path.toSVG()}"/>`;
    at += run.positions[index]!.xAdvance;
    return path;
  });
  const stroke = bold ? ` stroke="${colour}" stroke-width="${bold}"` : "";
  return { svg: `<g transform="translate(${x} ${y}) scale(${scale} ${-scale})" fill="${colour}"${stroke}>${paths.join("")}</g>`, width: at * scale };
};

const looks: Record<string, { ground: string; ink: string }> = {
  quiet: { ground: "#141B26", ink: "#FFFFFF" },
  firm: { ground: "#A34721", ink: "#FFFFFF" },
  loud: { ground: "#A52C26", ink: "#FFFFFF" },
};

const [width, height] = [960, 240];
const kept = new Map<string, Promise<Buffer>>();

const draw = ({ figure, sentence, stage }: ImageWords): Promise<Buffer> => {
  fonts ??= { figure: load("besley"), text: load("archivo") };
  const { ground, ink } = looks[stage?.look ?? "quiet"] ?? looks["quiet"]!;
  const big = figure ? outlines(fonts.figure, figure, 48, 118, 84, ink, 45).svg : "";
  // A long sentence is made smaller, never cut.
  const room = width - 96;
  const natural = outlines(fonts.text, sentence, 0, 0, 34, ink).width;
  const line = outlines(fonts.text, sentence, 48, figure ? 188 : 132, natural > room ? (34 * room) / natural : 34, ink).svg;
  const words = stage ? outlines(fonts.figure, stage.words, 0, 0, 30, ink, 40) : undefined;
  const mark = words
    ? `<rect x="${width - 72 - words.width}" y="22" width="${words.width + 36}" height="46" fill="none" stroke="${ink}" stroke-width="3"/><g transform="translate(${width - 54 - words.width} 55)">${words.svg}</g>`
    : "";
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><rect width="100%" height="100%" fill="${ground}"/>${big}${line}${mark}</svg>`;
  return sharp(Buffer.from(svg)).png({ palette: true }).toBuffer();
};

/** The picture of a countdown as PNG, 960 by 240 for a place of 480 by 120. The same words are drawn once. */
export const countdownImage = (words: ImageWords): Promise<Buffer> => {
  const key = JSON.stringify(words);
  let image = kept.get(key);
  if (!image) {
    if (kept.size > 400) kept.delete(kept.keys().next().value!);
    kept.set(key, (image = draw(words)));
    image.catch(() => kept.delete(key));
  }
  return image;
};
