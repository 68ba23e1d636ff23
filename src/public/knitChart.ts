import { Html } from "./html";

/** A knitting chart, drawn by code: diamonds between bands of stitches, in three tones of one colour. Decoration only. */
export const knitChart = (columns = 26, rows = 16): Html => {
  const tones = ["#2A6090", "#6E97BA", "#BBD0E2"];
  const paths = ["", "", ""];
  for (let y = 0; y < rows; y += 1) {
    for (let x = 0; x < columns; x += 1) {
      const inDiamond = (Math.abs((x % 10) - 5) + Math.abs((y % 10) - 5)) % 5 === 0;
      const tone = inDiamond || y % 13 > 10 ? 2 : x % 13 > 10 ? 1 : 0;
      paths[tone] += `M${x * 8 + 1} ${y * 8 + 2}l3 4l3-4`;
    }
  }
  const strokes = paths.map((d, tone) => `<path d="${d}" fill="none" stroke="${tones[tone]}" stroke-width="2.1"/>`).join("");
  return new Html(
    `<svg viewBox="0 0 ${columns * 8} ${rows * 8}" preserveAspectRatio="xMidYMid slice" aria-hidden="true"><rect width="100%" height="100%" fill="#1E4E79"/>${strokes}</svg>`,
  );
};
