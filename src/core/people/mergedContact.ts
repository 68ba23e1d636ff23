/** What of two records of one person is put together. */
export interface ContactRecord {
  id: string;
  createdAt: Date;
  firstName: string;
  lastName: string;
  phone: string;
  country: string;
  zone: string;
  language: string;
  answers: Readonly<Record<string, string>>;
  consentText: string | null;
  consentAt: Date | null;
  unsubscribedAt: Date | null;
  /** Since when they want one email a week at most. */
  fewerSince: Date | null;
  passwordHash: string | null;
}

const isElder = (one: ContactRecord, other: ContactRecord): boolean =>
  one.createdAt.getTime() === other.createdAt.getTime() ? one.id < other.id : one.createdAt < other.createdAt;

/** The earlier of two instants, or the later; of one alone, that. */
const earlier = (a: Date | null, b: Date | null): Date | null => (a && b ? (a <= b ? a : b) : (a ?? b));
const later = (a: Date | null, b: Date | null): Date | null => (a && b ? (a >= b ? a : b) : (a ?? b));

/**
 * One record of two, the same whichever comes first: the elder's, with what it lacks from the younger. The first consent counts; and whoever has
 * unsubscribed, or wants fewer emails, at either address does at both.
 */
export const mergedContact = (one: ContactRecord, other: ContactRecord): ContactRecord => {
  const [elder, younger] = isElder(one, other) ? [one, other] : [other, one];
  const consentAt = earlier(elder.consentAt, younger.consentAt);
  const consented = consentAt !== null && elder.consentAt?.getTime() === consentAt.getTime() ? elder : younger;
  return {
    id: elder.id,
    createdAt: elder.createdAt,
    firstName: elder.firstName || younger.firstName,
    lastName: elder.lastName || younger.lastName,
    phone: elder.phone || younger.phone,
    country: elder.country || younger.country,
    zone: elder.zone || younger.zone,
    language: elder.language || younger.language,
    answers: { ...younger.answers, ...elder.answers },
    consentText: consentAt && consented.consentText,
    consentAt,
    unsubscribedAt: later(elder.unsubscribedAt, younger.unsubscribedAt),
    fewerSince: later(elder.fewerSince, younger.fewerSince),
    passwordHash: elder.passwordHash ?? younger.passwordHash,
  };
};
