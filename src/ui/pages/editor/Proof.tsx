import morphdom from "morphdom";
import { useEffect, useLayoutEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { blockKinds, fill, mapLeaves, type BlockType, type Device, type Hole, type Look, type Media, type PageContent } from "../../../core/pages";
import { bodyHtml } from "../../../public/compile";
import type { PageFacts } from "../../../public/facts";
import { fillHole } from "../../../public/fillHole";
import { HoleBook, html } from "../../../public/html";
import { styleOf } from "../../../public/themes";
import styles from "./editor.module.css";

export interface Rect {
  top: number;
  left: number;
  width: number;
  height: number;
}

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
  const frame = useRef<HTMLIFrameElement>(null);
  const room = useRef<HTMLDivElement>(null);
  const sheet = useRef<CSSStyleSheet>(undefined);
  const [ready, setReady] = useState(false);
  const [size, setSize] = useState({ room: 0, height: 900 });
  const width = widths[device];
  const scale = size.room > 0 ? Math.min(1, size.room / width) : 0.7;
  const latest = useRef({ onSelect, onRects, scale });
  latest.current = { onSelect, onRects, scale };

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

  useEffect(() => {
    const element = frame.current!;
    const begin = () => {
      const inside = element.contentWindow as (Window & { CSSStyleSheet: typeof CSSStyleSheet }) | null;
      if (!inside || sheet.current) return;
      sheet.current = new inside.CSSStyleSheet();
      inside.document.adoptedStyleSheets = [sheet.current];
      inside.document.documentElement.lang = "en";
      inside.document.addEventListener("click", (event) => {
        event.preventDefault();
        const at = (event.target as Element).closest?.("[data-b]");
        latest.current.onSelect(at?.getAttribute("data-b") ?? undefined);
      });
      const measure = () => {
        const rects = new Map<string, Rect>();
        const by = latest.current.scale;
        inside.document.querySelectorAll("[data-b]").forEach((block) => {
          const { top, left, width: wide, height } = block.getBoundingClientRect();
          rects.set(block.getAttribute("data-b")!, { top: top * by, left: left * by, width: wide * by, height: height * by });
        });
        latest.current.onRects(rects);
        setSize((now) => {
          const next = { room: room.current!.clientWidth, height: Math.max(300, inside.document.body.offsetHeight) };
          return next.room === now.room && next.height === now.height ? now : next;
        });
      };
      const observer = new ResizeObserver(measure);
      observer.observe(inside.document.body);
      observer.observe(room.current!);
      element.addEventListener("proof", measure);
      setReady(true);
    };
    element.addEventListener("load", begin);
    // The frame may have loaded before the screen came alive.
    if (element.contentDocument?.URL === "about:srcdoc" && element.contentDocument.readyState === "complete") begin();
    return () => element.removeEventListener("load", begin);
  }, []);

  useLayoutEffect(() => {
    if (ready) sheet.current!.replaceSync(style);
  }, [ready, style]);
  useLayoutEffect(() => {
    const inside = ready ? frame.current!.contentDocument?.body : undefined;
    if (!inside) return;
    const next = inside.ownerDocument.createElement("body");
    next.innerHTML = body;
    morphdom(inside, next, {
      getNodeKey: (node) => (node instanceof inside.ownerDocument.defaultView!.Element ? (node.getAttribute("data-b") ?? undefined) : undefined),
      onBeforeElUpdated: (from, to) => !from.isEqualNode(to),
    });
    frame.current!.dispatchEvent(new Event("proof"));
  }, [ready, body, style, scale]);

  return (
    <div ref={room} className={styles.room}>
      <div className={styles.sheet} style={{ width: width * scale, height: size.height * scale }}>
        <iframe
          ref={frame}
          title="The page"
          sandbox="allow-same-origin"
          srcDoc="<!doctype html><html lang='en'><head><title>Proof</title></head><body></body></html>"
          style={{ width, height: size.height, transform: `scale(${scale})` }}
          tabIndex={-1}
        />
        {children}
      </div>
    </div>
  );
};
