/** What the screen shows when it is not "now, everyone". Told by a screen to the bell strip. */
export interface AsSeen {
  at: number;
  words: string;
  person: string;
}
const name = "inkbell:as-seen";

/** Tells the bell strip whose view and which instant the screen shows; undefined is now, as everyone. */
export const tellAsSeen = (seen: AsSeen | undefined): void => {
  dispatchEvent(new CustomEvent(name, { detail: seen }));
};
export const onAsSeen = (listen: (seen: AsSeen | undefined) => void): (() => void) => {
  const heard = (event: Event) => listen((event as CustomEvent<AsSeen | undefined>).detail);
  addEventListener(name, heard);
  return () => removeEventListener(name, heard);
};
