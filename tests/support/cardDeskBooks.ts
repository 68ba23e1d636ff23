export interface BookedCharge {
  id: string;
  status: string;
  amount: number;
  idempotency_key: string;
}

const booked = async (settings: Record<string, string>): Promise<BookedCharge[]> => {
  const response = await fetch(`${settings["CARD_DESK_URL"]}/v1/charges`, { headers: { authorization: `Bearer ${settings["CARD_DESK_KEY"]}` } });
  return ((await response.json()) as { charges: BookedCharge[] }).charges;
};

/** Settings that know how many charges the card desk held before a test began: those of the demo's orders. */
export const withPastCharges = async (settings: Record<string, string>): Promise<Record<string, string>> => ({
  ...settings,
  PAST_CHARGES: String((await booked(settings)).length),
});

/** Charges in the card desk's own books, those of the demo left out. */
export const chargesMade = async (settings: Record<string, string>): Promise<BookedCharge[]> =>
  (await booked(settings)).slice(Number(settings["PAST_CHARGES"] ?? 0));
