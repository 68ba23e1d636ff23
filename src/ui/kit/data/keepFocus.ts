/** The parts of a screen that may stand in for what had the focus within them. */
const PARTS = "section, article, aside, form, fieldset, dialog, table, ul, ol, main, [role], [tabindex]";

const isNowhere = (): boolean => document.activeElement === null || document.activeElement === document.body;

const canHaveFocus = (element: HTMLElement): boolean =>
  element.isConnected && !element.matches(":disabled") && !element.closest("[inert]") && element.checkVisibility({ visibilityProperty: true });

const focusPart = (part: HTMLElement): void => {
  if (!part.hasAttribute("tabindex")) part.tabIndex = -1;
  part.focus({ preventScroll: true });
};

/** Gives the focus to the work of the screen, where nothing has it: after a page that was loaded anew tells what was done. */
export const focusWork = (): void => {
  const work = document.querySelector("main");
  if (work && isNowhere()) focusPart(work);
};

/**
 * Keeps the focus on the screen's work: where the element that had it is removed, hidden or disabled, as a button after its press,
 * the nearest part around it takes the focus, and gives it back if the element can have it again. What a person leaves on purpose is left.
 * Returns what stops it.
 */
export const keepFocus = (): (() => void) => {
  let last: HTMLElement | undefined;
  let around: HTMLElement[] = [];
  /** What was disabled while it had the focus, and the part that stands in for it. */
  let waiting: { element: HTMLElement; part: HTMLElement } | undefined;

  const enter = ({ target }: FocusEvent) => {
    if (!(target instanceof HTMLElement)) return;
    if (target !== waiting?.part) waiting = undefined;
    last = target;
    around = [];
    for (let part = target.parentElement; part; part = part.parentElement) if (part.matches(PARTS)) around.push(part);
  };
  const check = () => {
    if (waiting && document.activeElement === waiting.part && canHaveFocus(waiting.element)) return waiting.element.focus({ preventScroll: true });
    if (!last || !isNowhere()) return;
    if (canHaveFocus(last)) {
      // It could have kept the focus: a press beside it took it away.
      last = undefined;
      return;
    }
    const part = around.find(canHaveFocus) ?? document.querySelector("main");
    if (!part) return;
    waiting = last.isConnected ? { element: last, part } : undefined;
    focusPart(part);
  };
  // Browsers differ in whether an element that is removed or disabled tells that it loses the focus: the page is watched as well.
  const leave = () => void setTimeout(check);
  const observer = new MutationObserver(leave);
  document.addEventListener("focusin", enter);
  document.addEventListener("focusout", leave);
  observer.observe(document.body, { childList: true, subtree: true, attributes: true, attributeFilter: ["disabled", "hidden", "inert", "open"] });
  return () => {
    observer.disconnect();
    document.removeEventListener("focusin", enter);
    document.removeEventListener("focusout", leave);
  };
};
