import { useEffect, useRef, type RefObject } from "react";

/**
 * Keeps the focus in a part of the screen whose buttons go when they are pressed: where the one that had it is gone, the part itself has it.
 * The part takes it only if its `tabIndex` says that it may (-1).
 */
export const useFocusKept = <Part extends HTMLElement>(): RefObject<Part | null> => {
  const part = useRef<Part>(null);
  const within = useRef(false);
  const keep = () => {
    if (within.current && document.activeElement === document.body) part.current?.focus({ preventScroll: true });
  };
  useEffect(() => {
    const { current } = part;
    if (!current) return;
    const enter = () => void (within.current = true);
    const leave = ({ target, relatedTarget }: FocusEvent) => {
      if (relatedTarget) return void (within.current = false);
      // Browsers differ in whether what is taken away or disabled says that it loses the focus; what is still there was left on purpose.
      setTimeout(() => {
        const gone = target instanceof HTMLElement && (!target.isConnected || target.matches(":disabled"));
        if (gone) keep();
        else within.current = current.contains(document.activeElement);
      });
    };
    current.addEventListener("focusin", enter);
    current.addEventListener("focusout", leave);
    return () => {
      current.removeEventListener("focusin", enter);
      current.removeEventListener("focusout", leave);
    };
  }, []);
  useEffect(keep);
  return part;
};
