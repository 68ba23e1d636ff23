import { useEffect, useRef, useState } from "react";

/** The width in which something is drawn, in pixels: `usual` until it is known, and never less than `least`. */
export const useWidth = (usual: number, least: number) => {
  const ref = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(usual);
  useEffect(() => {
    if (!ref.current) return;
    const watcher = new ResizeObserver(([entry]) => entry && setWidth(Math.max(least, Math.round(entry.contentRect.width))));
    watcher.observe(ref.current);
    return () => watcher.disconnect();
  }, [least]);
  return { ref, width };
};
