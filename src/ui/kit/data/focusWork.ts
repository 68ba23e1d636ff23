/** Where what had the focus is gone, as a button after its press, the work itself takes it: it never falls back to the head of the page. */
export const focusWork = (): void => {
  const { activeElement } = document;
  if (activeElement === null || activeElement === document.body) document.querySelector("main")?.focus({ preventScroll: true });
};
