import { readSeenAs, readSeenAt, writeSeenAs, type SeenAs } from "../../../core/launch";

/** Whose view and which instant a screen shows. Without an instant it is now. */
export interface Seen {
  at?: Date;
  as: SeenAs;
  /** The name of a person looked up by name. */
  name?: string;
}
const name = "inkbell:as-seen";

/** Reads what an address of the desk shows. */
export const seenOf = (address: URL): Seen => ({ at: readSeenAt(address.searchParams.get("at")), as: readSeenAs(address.searchParams.get("as")) });

/** The same address showing something else. */
export const addressWith = (address: URL, { at, as }: Seen): URL => {
  const next = new URL(address);
  const person = writeSeenAs(as);
  next.searchParams.delete("at");
  next.searchParams.delete("as");
  if (at) next.searchParams.set("at", at.toISOString());
  if (person) next.searchParams.set("as", person);
  return next;
};

/** Shows something else on this very screen: writes the address, so that it survives a reload, and tells the bell strip. */
export const showSeen = (seen: Seen): void => {
  history.replaceState(undefined, "", addressWith(new URL(location.href), seen));
  dispatchEvent(new CustomEvent(name, { detail: seen }));
};

export const onSeen = (listen: (seen: Seen) => void): (() => void) => {
  const heard = (event: Event) => listen((event as CustomEvent<Seen>).detail);
  addEventListener(name, heard);
  return () => removeEventListener(name, heard);
};

/** Lets links of the desk lead to the same view of another screen. Answers how to stop. */
export const carrySeen = (): (() => void) => {
  const carry = (event: Event) => {
    const link = event.target instanceof Element ? event.target.closest("a") : null;
    if (!link) return;
    const to = new URL(link.href, location.href);
    if (to.origin !== location.origin || !/^\/desk(\/|$)/.test(to.pathname) || /sign-(in|out)|\/seen$/.test(to.pathname)) return;
    // A link that names its own instant means that one.
    if (to.searchParams.has("at") || to.searchParams.has("as")) return;
    const seen = seenOf(new URL(location.href));
    if (seen.at || seen.as.kind !== "everyone") link.href = addressWith(to, seen).href;
  };
  addEventListener("click", carry, true);
  return () => removeEventListener("click", carry, true);
};
