/** True where the digits pass the check of ISO/IEC 7812-1 (Luhn). */
export const luhn = (digits: string): boolean => {
  if (!/^\d{2,19}$/.test(digits)) return false;
  let sum = 0;
  [...digits].reverse().forEach((digit, index) => {
    const doubled = Number(digit) * (index % 2 === 1 ? 2 : 1);
    sum += doubled > 9 ? doubled - 9 : doubled;
  });
  return sum % 10 === 0;
};

export interface TestCard {
  number: string;
  does: string;
  /** Where its bank is. */
  country: string;
  outcome: "succeeds" | "insufficient_funds" | "expired_card" | "challenge" | "slow" | "stolen_card" | "refused_later";
}

/** Numbers under a prefix that no bank was ever given, made to pass the Luhn check. */
export const testCards: TestCard[] = [
  { number: "9990000000000003", does: "goes through", country: "PT", outcome: "succeeds" },
  { number: "9990000000000011", does: "is refused: not enough on it", country: "PT", outcome: "insufficient_funds" },
  { number: "9990000000000029", does: "is refused: expired", country: "PT", outcome: "expired_card" },
  { number: "9990000000000037", does: "asks the buyer to confirm, each time", country: "PT", outcome: "challenge" },
  { number: "9990000000000045", does: "goes through, but the answer takes five seconds", country: "PT", outcome: "slow" },
  { number: "9990000000000060", does: "is refused: reported stolen", country: "PT", outcome: "stolen_card" },
  { number: "9990000000000078", does: "goes through once, and is refused when it is charged again", country: "PT", outcome: "refused_later" },
  { number: "9990000000000052", does: "goes through, and is of a German bank", country: "DE", outcome: "succeeds" },
];
