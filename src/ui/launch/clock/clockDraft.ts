import type { Landmark, LaunchPage, LaunchSettings } from "../../../core/launch";
import { pageNames } from "../../../core/pages";

/** What every section of the clock's desk works with. */
export interface ClockDraft {
  settings: LaunchSettings;
  pages: LaunchPage[];
  zone: string;
  now: number;
  /** The bells of the launch as they hold, for typed moments to be measured against. */
  landmarks: Landmark[];
  currency: string;
  /** Changes part of the draft. */
  set: (change: Partial<LaunchSettings>) => void;
  /** The objection to a field, by its path below the settings. */
  wrong: (path: string) => string | undefined;
}

/** A page as a person names it among the others of its launch: where two have the same name, with its address. */
export const pageName = (page: LaunchPage, all: readonly LaunchPage[]): string => {
  if (page.kind === "content") return `/${page.slug}`;
  const name = pageNames[page.kind];
  return all.some((other) => other.key !== page.key && other.kind === page.kind) ? `${name}, /${page.slug}` : name;
};

/** Folders that the addresses of a launch make. */
export const foldersOf = (pages: LaunchPage[]): string[] => [
  ...new Set(pages.filter(({ slug }) => slug.includes("/")).map(({ slug }) => slug.split("/")[0]!)),
];

/** A name that no item of the list has. */
export const freshId = (list: { id: string }[], stem: string): string => {
  let n = list.length + 1;
  while (list.some(({ id }) => id === `${stem}-${n}`)) n += 1;
  return `${stem}-${n}`;
};

/** The list with one item changed, or taken out. */
export const changed = <T>(list: T[], index: number, change: Partial<T>): T[] => list.map((item, i) => (i === index ? { ...item, ...change } : item));
export const without = <T>(list: T[], index: number): T[] => list.filter((_, i) => i !== index);
