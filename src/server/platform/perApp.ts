import type { App } from "./app";

/** A thing of which each process has one, made when its room first asks for it: `launchesOf(app)`. */
export const perApp = <T>(make: (app: App) => T): ((app: App) => T) => {
  const made = new WeakMap<App, { one: T }>();
  return (app) => {
    const known = made.get(app);
    if (known) return known.one;
    const one = make(app);
    made.set(app, { one });
    return one;
  };
};
