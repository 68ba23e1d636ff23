/** One order as lists show it; minor units, tax included. */
export interface OrderRow {
  id: string;
  number: number;
  placedAt: Date;
  buyer: string;
  country: string;
  lines: string;
  grossMinor: number;
  currency: string;
  partner: string | null;
  source: string;
  recovered: boolean;
}

/** The balance of an account; debits positive, minor units. */
export interface Balance {
  account: string;
  currency: string;
  minor: number;
}
