/** Which column a list is sorted by; in an address `paid`, or `-paid` for the largest first. */
export interface Sort {
  by: string;
  down: boolean;
}

/** A sort as it stands in an address. */
export const writeSort = ({ by, down }: Sort): string => (down ? `-${by}` : by);

/** Reads a sort from an address; undefined where it names none of the columns. */
export const readSort = (text: string | null, columns: readonly string[]): Sort | undefined => {
  const down = text?.startsWith("-") ?? false;
  const by = down ? text!.slice(1) : text;
  return by && columns.includes(by) ? { by, down } : undefined;
};

/** Puts what is shown into the address, so that it can be sent and survives a reload. */
export const keepInAddress = (name: string, value: string): void => {
  const url = new URL(location.href);
  if (value) url.searchParams.set(name, value);
  else url.searchParams.delete(name);
  if (url.href !== location.href) history.replaceState(history.state, "", url);
};
