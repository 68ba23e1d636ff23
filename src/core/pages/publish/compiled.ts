import type { BlockOf } from "../content/blocks";
import type { Target } from "../content/target";

/** A bump that stands in the order form, with the classes of its block. */
export interface BumpHole {
  block: BlockOf<"bump">;
  picture?: string;
  classes: string;
}

/** A place of a compiled page that is filled for each request, with all that its filling must know of the page. */
export type Hole =
  /** Countdowns that the clock's settings put on the page. */
  | { kind: "bars" | "inline" | "card" }
  | { kind: "countdown"; form: "inline" | "card" }
  /** What went wrong or well, where the page's form does not say it itself. */
  | { kind: "notice" }
  | { kind: "form"; block: BlockOf<"form">; gift?: { name: string; href: string } }
  | { kind: "price"; block: BlockOf<"price"> }
  | { kind: "seats"; words: string }
  | { kind: "checkout"; block: BlockOf<"checkout">; bumps?: BumpHole[] }
  | { kind: "offer"; block: BlockOf<"offer"> }
  | { kind: "receipt" }
  | { kind: "episodes"; heading: string }
  | { kind: "live"; block: BlockOf<"live">; film?: string; captions?: string }
  | { kind: "comments"; block: BlockOf<"comments"> }
  | { kind: "bump"; block: BlockOf<"bump">; picture?: string }
  | { kind: "addition"; block: BlockOf<"addition">; picture?: string }
  | { kind: "invitation"; block: BlockOf<"invitation"> }
  | { kind: "cross"; block: BlockOf<"cross">; picture?: string }
  | { kind: "partner"; words: string }
  | { kind: "refundDays" }
  | { kind: "meta" }
  /** The attributes of a link: where it leads. Holds for everyone, so it is filled once, when the launch is loaded. */
  | { kind: "href"; to: Target };

/** A page ready to send: text between holes. `parts[0]`, hole, `parts[1]`, hole, … */
export interface CompiledPage {
  parts: string[];
  holes: Hole[];
  /** SHA-256 of its style, base64, for the policy it is sent with. */
  styleHash: string;
  /** What the browser's tab and a shared link say. */
  title: string;
  description: string;
  /** The picture shown where the page is shared, as a path. */
  shared?: string;
  /** Which version of the program's rendering made it. */
  made: string;
}

/** The page's text, its holes filled with ready HTML; a hole without a filling is empty. */
export const fill = (page: Pick<CompiledPage, "parts" | "holes">, filling: (hole: Hole) => string | undefined): string => {
  let html = page.parts[0] ?? "";
  page.holes.forEach((hole, index) => {
    html += (filling(hole) ?? "") + (page.parts[index + 1] ?? "");
  });
  return html;
};

/** The same page with the holes filled for which there is a filling already; the others stay open. */
export const fillSome = <P extends Pick<CompiledPage, "parts" | "holes">>(page: P, filling: (hole: Hole) => string | undefined): P => {
  const parts = [page.parts[0] ?? ""];
  const holes: Hole[] = [];
  page.holes.forEach((hole, index) => {
    const filled = filling(hole);
    const after = page.parts[index + 1] ?? "";
    if (filled === undefined) {
      holes.push(hole);
      parts.push(after);
    } else parts[parts.length - 1] += filled + after;
  });
  return { ...page, parts, holes };
};
