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
  outcome: "succeeds" | "insufficient_funds" | "expired_card" | "challenge" | "slow";
}

/** Numbers under a prefix that no bank was ever given, made to pass the Luhn check. */
export const testCards: TestCard[] = [
  { number: "9990000000000003", does: "goes through", outcome: "succeeds" },
  { number: "9990000000000011", does: "is refused: not enough on it", outcome: "insufficient_funds" },
  { number: "9990000000000029", does: "is refused: expired", outcome: "expired_card" },
  { number: "9990000000000037", does: "asks the buyer to confirm, each time", outcome: "challenge" },
  { number: "9990000000000045", does: "goes through, but the answer takes five seconds", outcome: "slow" },
];
