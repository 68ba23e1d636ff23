import { useEffect, useRef, type RefObject } from "react";

/**
 * Keeps the focus in a part of the screen whose buttons go when they are pressed: where the one that had it is gone, the part itself has it.
 * The part takes it only if its `tabIndex` says that it may (-1).
 */
export const useFocusKept = <Part extends HTMLElement>(): RefObject<Part | null> => {
  const part = useRef<Part>(null);
  const within = useRef(false);
  useEffect(() => {
    const { current } = part;
    if (!current) return;
    const enter = () => (within.current = true);
    // What leaves by itself goes somewhere, or is left for the page on purpose; what is taken away says nothing.
    const leave = () => (within.current = false);
    current.addEventListener("focusin", enter);
    current.addEventListener("focusout", leave);
    return () => {
      current.removeEventListener("focusin", enter);
      current.removeEventListener("focusout", leave);
    };
  }, []);
  useEffect(() => {
    if (within.current && document.activeElement === document.body) part.current?.focus({ preventScroll: true });
  });
  return part;
};
