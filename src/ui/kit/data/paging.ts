/** A page of a long list: the rows from `from` on, `most` of them. */
export interface PageOfList {
  number: number;
  from: number;
  most: number;
}

/** Which page of its list an address asks for (`?page=`), counted from 1. */
export const pageOf = (url: URL, most = 100): PageOfList => {
  const asked = Number(url.searchParams.get("page") ?? 1);
  const number = Number.isSafeInteger(asked) && asked >= 1 && asked <= 1_000_000 ? asked : 1;
  return { number, from: (number - 1) * most, most };
};

/** The address of another page of the same list. */
export const pageHref = (url: URL, number: number): string => {
  const query = new URLSearchParams(url.searchParams);
  if (number === 1) query.delete("page");
  else query.set("page", String(number));
  return `${url.pathname}${query.size > 0 ? `?${query}` : ""}`;
};
