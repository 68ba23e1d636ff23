import { publicWords } from "../words";
import { type Locale, usualLocale } from "../money";
/**
 * Countries whose courts ask a sender to prove who ticked the box, so that an address is confirmed by email before
 * anything else is sent to it (common practice, no source).
 */
const confirmed = new Set(["DE", "AT"]);

/** Whether an address from this country is confirmed before it counts. A country that is not known asks for no more than the form does. */
export const needsConfirmation = (country: string | undefined): boolean => country !== undefined && confirmed.has(country);

const american = new Set(["US", "CA"]);

/** The sentence beside the box of an opt-in form, which is never ticked beforehand. It names who writes, about what, and how it ends. */
export const consentWords = (vendor: string, country?: string, locale: Locale = usualLocale): string => {
  const { consent } = publicWords(locale);
  return country && american.has(country) ? consent.american(vendor) : consent.usual(vendor);
};

/** A form that does not say when it was shown, or was sent sooner after it than a person can fill it in, was sent by a program. */
export const sentByProgram = (shownAt: string | undefined, now: Date): boolean => {
  return !(now.getTime() - Number(shownAt ?? Number.NaN) >= 250);
};
