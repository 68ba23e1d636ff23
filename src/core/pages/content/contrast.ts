/** A colour as `#RRGGBB`. */
export type Hex = `#${string}`;

const channels = (hex: Hex): [number, number, number] =>
  [1, 3, 5].map((from) => Number.parseInt(hex.slice(from, from + 2), 16)) as [number, number, number];

/** Relative luminance of a colour, 0 to 1 (WCAG 2.2, definition "relative luminance"). */
export const luminance = (hex: Hex): number => {
  const [r, g, b] = channels(hex).map((value) => {
    const s = value / 255;
    return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
};

/** Contrast ratio of two colours, 1 to 21 (WCAG 2.2 §1.4.3, definition "contrast ratio"). */
export const contrast = (a: Hex, b: Hex): number => {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (light + 0.05) / (dark + 0.05);
};

/** So much of `b` in `a`, 0 to 1, per channel. */
export const mix = (a: Hex, b: Hex, share: number): Hex => {
  const [from, to] = [channels(a), channels(b)];
  return `#${from
    .map((value, index) =>
      Math.round(value + (to[index]! - value) * share)
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")
    .toUpperCase()}`;
};

const white: Hex = "#FFFFFF";
const black: Hex = "#000000";

/** The colour itself, or the nearest of it, darkened or lightened, that reaches a contrast on a ground. */
export const readableOn = (colour: Hex, ground: Hex, ratio = 4.5): Hex => {
  const end = contrast(black, ground) >= contrast(white, ground) ? black : white;
  for (let share = 0; share < 1; share += 0.02) {
    const tried = mix(colour, end, share);
    if (contrast(tried, ground) >= ratio) return tried;
  }
  return end;
};

/** The one of two inks that reads better on a ground; black or white where neither reaches 4.5. */
export const inkOn = (ground: Hex, dark: Hex, light: Hex): Hex => {
  const best = contrast(dark, ground) >= contrast(light, ground) ? dark : light;
  return contrast(best, ground) >= 4.5 ? best : contrast(black, ground) >= contrast(white, ground) ? black : white;
};
