import sharp from "sharp";
import type { FileStore } from "../src/outside/fileStore";
import { storeMedia } from "../src/server/pages/media";
import type { EntityManager } from "../src/store/orm";

/** A knitting chart, drawn by code: stitches as small chevrons in three tones of one colour, in a pattern. */
const knitChart = (tones: [string, string, string, string], toneAt: (x: number, y: number) => 0 | 1 | 2, columns = 52, rows = 32): string => {
  const paths = ["", "", ""];
  for (let y = 0; y < rows; y += 1) for (let x = 0; x < columns; x += 1) paths[toneAt(x, y)] += `M${x * 8 + 1} ${y * 8 + 2}l3 4l3-4`;
  const strokes = paths.map((d, tone) => `<path d="${d}" fill="none" stroke="${tones[tone + 1]}" stroke-width="2.1"/>`).join("");
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${columns * 8} ${rows * 8}" width="960" height="${Math.round((960 * rows) / columns)}"><rect width="100%" height="100%" fill="${tones[0]}"/>${strokes}</svg>`;
};
const diamond = (x: number, y: number) => (Math.abs((x % 10) - 5) + Math.abs((y % 10) - 5)) % 5 === 0;
const blue: [string, string, string, string] = ["#1E4E79", "#2A6090", "#6E97BA", "#BBD0E2"];

const drawings: Record<"gansey" | "rope" | "yoke" | "edge", { svg: string; alt: string }> = {
  gansey: {
    svg: knitChart(blue, (x, y) => (diamond(x, y) || y % 13 > 10 ? 2 : x % 13 > 10 ? 1 : 0)),
    alt: "A knitting chart of diamonds between bands of stitches",
  },
  rope: {
    svg: knitChart(["#20394A", "#2B4C61", "#7FA0AF", "#D5E0DE"], (x, y) => ((x + y) % 12 < 3 || (x - y + 64) % 12 < 2 ? 2 : x % 26 < 2 ? 1 : 0)),
    alt: "A knitting chart of crossing ropes",
  },
  yoke: {
    svg: knitChart(["#4B2A2C", "#6A3A37", "#C08A5A", "#EAD7B4"], (x, y) => ((Math.abs((x % 16) - 8) + (y % 8)) % 8 < 2 ? 2 : y % 8 === 7 ? 1 : 0)),
    alt: "A knitting chart of a yoke with waves in three colours",
  },
  edge: {
    svg: knitChart(["#2F3B2C", "#44543E", "#8FA07A", "#DDE3C8"], (x, y) => (y > 26 ? ((x + y) % 2 === 0 ? 2 : 1) : (x + 2 * y) % 9 < 2 ? 1 : 0)),
    alt: "A knitting chart of a cast-on edge",
  },
};
export type DemoPictures = Record<keyof typeof drawings, { id: string; alt: string }>;

/** Draws the made-up vendor's pictures and uploads them. */
export const drawPictures = async (em: EntityManager, files: FileStore, now: Date): Promise<DemoPictures> => {
  const kept = await Promise.all(
    Object.entries(drawings).map(async ([name, { svg, alt }]) => {
      const png = await sharp(Buffer.from(svg)).png().toBuffer();
      return [name, { id: (await storeMedia(files, em.fork(), null, `${name}.png`, await files.take(png), now)).id, alt }] as const;
    }),
  );
  return Object.fromEntries(kept) as DemoPictures;
};
