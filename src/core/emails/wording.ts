import { usualLocale, type Locale } from "../money";
import { emailWords } from "../words";

/** An email about somebody's account, in the program's words: one link, which is for them alone. */
export interface AccountEmail {
  subject: string;
  paragraphs: string[];
  link: { label: string; href: string };
}

/** Somebody is invited to the vendor's team. */
export const invitationWords = (
  v: { by: string; vendor: string; role: string; days: number; link: string },
  locale: Locale = usualLocale,
): AccountEmail => {
  const { hello, invitation } = emailWords(locale);
  return {
    subject: invitation.subject(v.by, v.vendor),
    paragraphs: [hello(""), invitation.what(v.by, v.vendor, v.role), invitation.holds(v.days, v.by)],
    link: { label: invitation.link, href: v.link },
  };
};

/** Somebody asked for a new password. */
export const newPasswordWords = (
  v: { name: string; vendor: string; kind: "desk" | "partner" | "buyer"; link: string },
  locale: Locale = usualLocale,
): AccountEmail => {
  const { hello, newPassword } = emailWords(locale);
  return {
    subject: newPassword.subject(v.kind, v.vendor),
    paragraphs: [hello(v.name), newPassword.what(v.kind), newPassword.notYou],
    link: { label: newPassword.link, href: v.link },
  };
};

/** An application was accepted: what the partner earns, and the way into the portal. */
export const partnerWelcomeWords = (
  v: { name: string; vendor: string; rate: string; code: string; link: string },
  locale: Locale = usualLocale,
): AccountEmail => {
  const { hello, partnerWelcome } = emailWords(locale);
  return {
    subject: partnerWelcome.subject(v.vendor),
    paragraphs: [hello(v.name), partnerWelcome.what(v.rate, v.code), partnerWelcome.next],
    link: { label: partnerWelcome.link, href: v.link },
  };
};

/** A bell of a launch has rung: told to the vendor. */
export const bellRungWords = (v: { bell: string; launch: string; moment: string; outcome: string; phase: string; link: string }): AccountEmail => ({
  subject: `${v.bell}: ${v.launch}`,
  paragraphs: [`${v.bell}: ${v.launch}, ${v.moment}. ${v.outcome}`, `Now: ${v.phase}.`],
  link: { label: "The score", href: v.link },
});

/** Who sends an email: their name, and the address that stands under it. */
export interface Signature {
  name: string;
  postalAddress: string;
}
