import { useMemo, type ReactNode } from "react";
import { blockKinds, fill, mapLeaves, type BlockType, type Device, type Hole, type Look, type Media, type PageContent } from "../../../core/pages";
import { bodyHtml } from "../../../public/compile";
import type { PageFacts } from "../../../public/facts";
import { fillHole } from "../../../public/fillHole";
import { HoleBook, html } from "../../../public/html";
import { styleOf } from "../../../public/themes";
import { ProofFrame, type Rect } from "./ProofFrame";

interface Props {
  content: PageContent;
  facts: PageFacts;
  look: Look;
  launch: { slug: string; name: string };
  media: Media[];
  device: Device;
  onSelect: (id: string | undefined) => void;
  /** Where each block stands, in pixels of the desk. */
  onRects: (rects: Map<string, Rect>) => void;
  children?: ReactNode;
}

/** Widths of the proof: they decide which rules for small screens hold. */
export const widths: Record<Device, number> = { desktop: 1000, tablet: 768, phone: 390 };

// A proof shows what is still empty, and forms that wait for a press, where they will stand.
const proofCss =
  'h1:empty::before,h2:empty::before,h3:empty::before{content:"…";opacity:.4}[data-b]:empty{min-height:14px}.proofless{border:2px dashed;opacity:.6;padding:14px;font-size:15px}a,button,input,select,iframe,video{pointer-events:none}body{cursor:default;overflow:hidden}.sec:empty,.in:empty{min-height:60px}';

const nothingYet = (type: BlockType) => html`<p class="proofless">${blockKinds[type].name}: nothing to show yet</p>`;
/** Blocks that are filled for each person and may have nothing for this one. */
const blocks: Partial<Record<Hole["kind"], BlockType>> = {
  seats: "seats",
  episodes: "episodes",
  live: "live",
  bump: "bump",
  cross: "cross",
  partner: "partner",
};
const instead = (kind: Hole["kind"]) => {
  const type = blocks[kind];
  return type && nothingYet(type);
};

const inSight = (content: PageContent): PageContent =>
  mapLeaves(content, (leaf) => (leaf.type === "form" && leaf.over ? { ...leaf, over: false } : leaf));

/** The page itself, written by the very functions that write it for the public, in a frame of the chosen width. */
export const Proof = ({ content, facts, look, launch, media, device, onSelect, onRects, children }: Props) => {
  // Types may come late here: nobody waits for the proof to stand still.
  const style = useMemo(
    () => styleOf(content.look ?? look).replaceAll("font-display:optional", "font-display:swap") + proofCss,
    [content.look, look],
  );
  const body = useMemo(() => {
    const byId = new Map(media.map((one) => [one.id, one]));
    const book = new HoleBook();
    const written = bodyHtml(
      {
        content: inSight(content),
        look,
        launch,
        key: facts.key,
        vendor: facts.vendor,
        media: (id) => (id === null ? undefined : byId.get(id)),
        instead: ({ type }) => nothingYet(type),
        noFrames: true,
      },
      book,
    );
    // The desk runs scripts, so what is meant for browsers without is left out.
    return fill(book.cut(written), (hole) => (hole.kind === "href" ? ' href="#"' : fillHole(hole, facts) || instead(hole.kind)?.text)).replace(
      /<noscript>[\s\S]*?<\/noscript\s*>/g,
      "",
    );
  }, [content, facts, look, launch, media]);

  return (
    <ProofFrame title="The page" style={style} body={body} width={widths[device]} onSelect={onSelect} onRects={onRects}>
      {children}
    </ProofFrame>
  );
};
