import morphdom from "morphdom";
import { useEffect, useLayoutEffect, useRef, useState, type ReactNode } from "react";
import styles from "./editor.module.css";

export interface Rect {
  top: number;
  left: number;
  width: number;
  height: number;
}

interface Props {
  /** What is shown, for who hears the screen. */
  title: string;
  style: string;
  body: string;
  /** Its width in pixels: it decides which rules for small screens hold. */
  width: number;
  /** The empty document it is drawn into, where it may hold what no page of the desk may: styles of its own in its tags. */
  src?: string;
  onSelect: (id: string | undefined) => void;
  /** Where each block stands, in pixels of the desk. */
  onRects: (rects: Map<string, Rect>) => void;
  children?: ReactNode;
}

/** A document drawn to scale in a frame of its own, whose blocks can be pressed: what changes in it is changed in place. */
export const ProofFrame = ({ title, style, body, width, src, onSelect, onRects, children }: Props) => {
  const frame = useRef<HTMLIFrameElement>(null);
  const room = useRef<HTMLDivElement>(null);
  const sheet = useRef<CSSStyleSheet>(undefined);
  const [ready, setReady] = useState(false);
  const [size, setSize] = useState({ room: 0, height: 900 });
  const scale = size.room > 0 ? Math.min(1, size.room / width) : 0.7;
  const latest = useRef({ onSelect, onRects, scale });
  latest.current = { onSelect, onRects, scale };

  useEffect(() => {
    const element = frame.current!;
    const begin = () => {
      const inside = element.contentWindow as (Window & { CSSStyleSheet: typeof CSSStyleSheet }) | null;
      // Before its own document is there, a frame holds an empty one under the rules of the desk.
      if (!inside || sheet.current || inside.document.URL === "about:blank") return;
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
    if (element.contentDocument?.readyState === "complete") begin();
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
          title={title}
          sandbox="allow-same-origin"
          {...(src ? { src } : { srcDoc: "<!doctype html><html lang='en'><head><title>Proof</title></head><body></body></html>" })}
          style={{ width, height: size.height, transform: `scale(${scale})` }}
          tabIndex={-1}
        />
        {children}
      </div>
    </div>
  );
};
