import { useRef } from "react";

// `randomUUID` is there on https and loopback alone; a desk on a plain local network has random values too.
const newId = (): string => {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = (bytes[6]! & 0x0f) | 0x40;
  bytes[8] = (bytes[8]! & 0x3f) | 0x80;
  const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, "$1-$2-$3-$4-$5");
};

/** An id of what a form does once: pressed again, or sent again by a browser, it is still the same act. */
export const useAct = (): (() => string) => {
  const act = useRef<string>(undefined);
  return () => (act.current ??= newId());
};
