import { useSyncExternalStore } from "react";

export interface Notice {
  text: string;
  /** Something was lost, refused or not done. */
  loss: boolean;
}

const afterReload = "ink-bell-said";
let said: Notice | undefined;
const listeners = new Set<() => void>();
const show = (notice: Notice | undefined): void => {
  said = notice;
  for (const listener of listeners) listener();
};

/** Says at the foot of the screen what was done, or why not. It is announced, and stays until the next one or until it is put away. */
export const say = (text: string, loss = false): void => show({ text, loss });

export const putAway = (): void => show(undefined);

/** Goes to another screen, and says there what was done. */
export const goSaying = (href: string, text: string): void => {
  sessionStorage.setItem(afterReload, text);
  location.assign(href);
};

/** Loads the screen anew, and says there what was done. */
export const reloadSaying = (text: string): void => {
  sessionStorage.setItem(afterReload, text);
  location.reload();
};

/** Says what was left to be said before the screen was loaded anew. */
export const sayWhatWasLeft = (): void => {
  const text = sessionStorage.getItem(afterReload);
  if (!text) return;
  sessionStorage.removeItem(afterReload);
  say(text);
};

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** What is being said. One for all islands of a screen. */
export const useNotice = (): Notice | undefined =>
  useSyncExternalStore(
    subscribe,
    () => said,
    () => undefined,
  );
