import { fault } from "../../words";
import { z } from "zod";
import { inkOn, mix, readableOn, type Hex } from "./contrast";

export const themes = ["broadside", "letter", "lantern"] as const;
export type Theme = (typeof themes)[number];
export const typePairs = ["bill", "book", "signboard"] as const;
export type TypePair = (typeof typePairs)[number];

const colour = z
  .string()
  .regex(/^#[0-9a-fA-F]{6}$/, fault("colour"))
  .transform((text) => text.toUpperCase() as Hex);

/** How the pages of a launch look: a theme, the vendor's two colours, a pair of types, a logo. */
export const look = z.object({ theme: z.enum(themes), accent: colour, second: colour, type: z.enum(typePairs), logo: z.uuid().nullable() });
export type Look = z.infer<typeof look>;

export const standardLook: Look = { theme: "broadside", accent: "#A34721", second: "#141B26", type: "bill", logo: null };

export const themeNames: Record<Theme, { name: string; says: string }> = {
  broadside: { name: "Broadside", says: "a printed bill: large type and rules" },
  letter: { name: "Letter", says: "one long column, to be read" },
  lantern: { name: "Lantern", says: "dark, the film first" },
};
export const typeNames: Record<TypePair, string> = { bill: "Besley and Archivo", book: "Newsreader", signboard: "Bricolage and Archivo" };

/** Grounds of the themes. The vendor's colours are fitted to them, not the other way round. */
const grounds: Record<Theme, { paper: Hex; sunk: Hex; ink: Hex; field: Hex }> = {
  broadside: { paper: "#FBFAF4", sunk: "#EFEDE2", ink: "#141B26", field: "#FFFFFF" },
  letter: { paper: "#FFFFFF", sunk: "#F3F2EE", ink: "#1B1F24", field: "#FFFFFF" },
  lantern: { paper: "#12161D", sunk: "#1C222C", ink: "#F4F1E8", field: "#0B0E13" },
};

/** Every colour of a page, by what it is for; text reaches 4.5:1 and marks 3:1 on their ground, whatever the vendor chose. */
export interface Palette {
  paper: Hex;
  sunk: Hex;
  field: Hex;
  ink: Hex;
  ink2: Hex;
  ink3: Hex;
  hair: Hex;
  /** Ground of buttons, and the words on it. */
  accent: Hex;
  onAccent: Hex;
  /** The accent as words on the paper and on the sunk ground. */
  accentText: Hex;
  second: Hex;
  onSecond: Hex;
  /** The accent as words on the second colour. */
  accentOnSecond: Hex;
  loss: Hex;
  lossText: Hex;
  focus: Hex;
}

/** The colours of a look, contrast kept (WCAG 2.2 §1.4.3 and §1.4.11). */
export const paletteOf = ({ theme, accent, second }: Pick<Look, "theme" | "accent" | "second">): Palette => {
  const { paper, sunk, ink, field } = grounds[theme];
  const dark = theme === "lantern" ? paper : ink;
  const light = theme === "lantern" ? ink : paper;
  // A button must stand out from the paper by 3:1; its words are chosen for what it then is.
  const button = readableOn(accent, paper, 3);
  const words = (colour: Hex) => readableOn(readableOn(colour, paper), sunk);
  return {
    paper,
    sunk,
    field,
    ink,
    ink2: words(mix(ink, paper, 0.2)),
    ink3: words(mix(ink, paper, 0.38)),
    hair: mix(ink, paper, 0.78),
    accent: button,
    onAccent: inkOn(button, dark, light),
    accentText: words(accent),
    second,
    onSecond: inkOn(second, dark, light),
    accentOnSecond: readableOn(accent, second),
    loss: "#A52C26",
    lossText: words("#A52C26"),
    focus: readableOn("#3C4C9A", paper, 3),
  };
};
