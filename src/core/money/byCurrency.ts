import { formatMoney, type Locale } from "./format";

/**
 * Minor units by ISO 4217 currency. Sums of several currencies are kept apart: as a record and no number, nothing adds
 * them up by mistake.
 */
export type MoneyByCurrency = Readonly<Partial<Record<string, number>>>;

/** Adds sums, currency by currency. */
export const addMoney = (...sums: readonly MoneyByCurrency[]): MoneyByCurrency => {
  const total: Record<string, number> = {};
  for (const sum of sums) for (const [currency, minor = 0] of Object.entries(sum)) total[currency] = (total[currency] ?? 0) + minor;
  return total;
};

/** `€61.05 and $14.00`: each currency by itself, in the order of their codes; nothing at all is nothing of `usual`. */
export const formatMoneyByCurrency = (sums: MoneyByCurrency, usual: string, locale?: Locale): string => {
  const parts = Object.entries(sums)
    .filter(([, minor = 0]) => minor !== 0)
    .sort(([a], [b]) => a.localeCompare(b))
    .map(([currency, minor = 0]) => formatMoney(minor, currency, locale));
  if (parts.length === 0) return formatMoney(0, usual, locale);
  return parts.length === 1 ? parts[0]! : `${parts.slice(0, -1).join(", ")} and ${parts.at(-1)}`;
};
