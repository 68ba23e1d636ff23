import type { SavedFilter } from "../../../contract/people";

const everybody = "everybody who may be written to";

/** To whom an email goes: everybody, those whom a saved filter finds, by its name, or the condition in words. */
export const toWhom = (who: string, filters: readonly SavedFilter[]): string => {
  const saved = filters.find((filter) => filter.who === who);
  return who === "" ? everybody : saved ? `“${saved.name}”` : `whoever ${who}`;
};

/** The saved filters to choose from beside what stands there now: everybody, or a condition that no filter has. */
export const filterOptions = (who: string, filters: readonly SavedFilter[]): { value: string; label: string }[] => [
  { value: "", label: everybody },
  ...filters.map((filter) => ({ value: filter.who, label: filter.name })),
  ...(who === "" || filters.some((filter) => filter.who === who) ? [] : [{ value: who, label: "a condition of its own" }]),
];
