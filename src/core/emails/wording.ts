import { usualLocale, type Locale } from "../money";
import { emailWords, fullMoment, zoneCity } from "../words";

/** An email as it is written: the fixed words come from the catalogue, the rest from the vendor. */
export interface EmailWords {
  locale: Locale;
  subject: string;
  paragraphs: string[];
  link?: { label: string; href: string };
  /** The reader's own deadline as a picture, with the same in words for who sees none. */
  countdown?: { src: string; says: string };
}

/** An address waits to be confirmed: nothing else is sent to it before. */
export const confirmWords = (v: { launch: string; link: string }, locale: Locale = usualLocale): EmailWords => {
  const { hello, confirm } = emailWords(locale);
  return {
    locale,
    subject: confirm.subject(v.launch),
    paragraphs: [hello(""), confirm.why(v.launch), confirm.notYou],
    link: { label: confirm.link, href: v.link },
  };
};

/** Somebody is invited to the vendor's team. */
export const invitationWords = (
  v: { by: string; vendor: string; role: string; days: number; link: string },
  locale: Locale = usualLocale,
): EmailWords => {
  const { hello, invitation } = emailWords(locale);
  return {
    locale,
    subject: invitation.subject(v.by, v.vendor),
    paragraphs: [hello(""), invitation.what(v.by, v.vendor, v.role), invitation.holds(v.days, v.by)],
    link: { label: invitation.link, href: v.link },
  };
};

/** Somebody asked for a new password. */
export const newPasswordWords = (
  v: { name: string; vendor: string; kind: "desk" | "partner" | "buyer"; link: string },
  locale: Locale = usualLocale,
): EmailWords => {
  const { hello, newPassword } = emailWords(locale);
  return {
    locale,
    subject: newPassword.subject(v.kind, v.vendor),
    paragraphs: [hello(v.name), newPassword.what(v.kind), newPassword.notYou],
    link: { label: newPassword.link, href: v.link },
  };
};

/** Somebody asked to be let into their library. */
export const libraryWords = (v: { firstName: string; link: string }, locale: Locale = usualLocale): EmailWords => {
  const { hello, library } = emailWords(locale);
  return {
    locale,
    subject: library.subject,
    paragraphs: [hello(v.firstName), library.what, library.notYou],
    link: { label: library.link, href: v.link },
  };
};

/** An email of the vendor's that hangs on a bell. */
export const bellEmailWords = (
  v: { firstName: string; subject: string; text: string; link: string; countdown?: EmailWords["countdown"] },
  locale: Locale = usualLocale,
): EmailWords => {
  const { hello, bell } = emailWords(locale);
  return {
    locale,
    subject: v.subject,
    paragraphs: [hello(v.firstName), ...v.text.split(/\n{2,}/), ...(v.countdown ? [`${v.countdown.says}.`] : [])],
    countdown: v.countdown,
    link: { label: bell.link, href: v.link },
  };
};

/** An opt-in is answered: when the doors open, and where. */
export const welcomeWords = (
  v: {
    firstName: string;
    launch: string;
    /** The bell that comes next for this person, in a sentence; undefined where none does. */
    bell?: string;
    link: string;
    open: boolean;
    countdown?: EmailWords["countdown"];
    /** What the form promised. */
    gift?: { name: string; href: string };
  },
  locale: Locale = usualLocale,
): EmailWords => {
  const { hello, welcome } = emailWords(locale);
  return {
    locale,
    subject: welcome.subject(v.launch),
    paragraphs: [
      hello(v.firstName),
      v.open ? welcome.open(v.launch) : welcome.waits(v.launch),
      ...(v.bell ? [`${v.bell}.`] : []),
      ...(v.gift ? [welcome.gift(v.gift.name, v.gift.href)] : []),
    ],
    countdown: v.countdown,
    link: { label: v.open ? welcome.seeOffer : welcome.seeCountdown, href: v.link },
  };
};

/** What the receipt of an order says. Amounts come formatted. */
export interface ReceiptFacts {
  firstName: string;
  number: string;
  lines: { name: string; gross: string; tax: string }[];
  total: string;
  tax: string;
  /** What the tax is called where the buyer is. */
  taxName: string;
  /** A business that accounts for the tax itself. */
  vatNumber?: string;
  /** The code that was used, and what it took off before tax. */
  code?: { name: string; discount: string };
  /** What is charged later, in words. */
  recurring?: string[];
  /** Whether it only tries things out. */
  test?: boolean;
  /** How much of it is only authorized on the card until it ships. */
  authorized?: string;
  /** Where all orders of the buyer stand. */
  library?: string;
  link: string;
}

/** The receipt of an order. */
export const receiptWords = (v: ReceiptFacts, locale: Locale = usualLocale): EmailWords => {
  const { hello, receipt } = emailWords(locale);
  const total = v.authorized ? receipt.total : receipt.paid;
  return {
    locale,
    subject: receipt.subject(v.number, v.test ?? false),
    paragraphs: [
      hello(v.firstName),
      v.test ? receipt.test : receipt.thanks,
      ...v.lines.map((line) => receipt.line(line.name, line.gross, v.taxName, line.tax)),
      total(v.total, v.taxName, v.tax, v.number),
      ...(v.code ? [receipt.code(v.code.name, v.code.discount)] : []),
      ...(v.authorized ? [receipt.authorized(v.authorized)] : []),
      ...(v.recurring ?? []),
      ...(v.vatNumber ? [receipt.reverse(v.vatNumber)] : []),
      ...(v.library ? [receipt.library(v.library)] : []),
    ],
    link: { label: receipt.link, href: v.link },
  };
};

/** An application was accepted: what the partner earns, and the way into the portal. */
export const partnerWelcomeWords = (
  v: { name: string; vendor: string; rate: string; code: string; link: string },
  locale: Locale = usualLocale,
): EmailWords => {
  const { hello, partnerWelcome } = emailWords(locale);
  return {
    locale,
    subject: partnerWelcome.subject(v.vendor),
    paragraphs: [hello(v.name), partnerWelcome.what(v.rate, v.code), partnerWelcome.next],
    link: { label: partnerWelcome.link, href: v.link },
  };
};

/** The one email to a person who left an address at the checkout and did not pay. */
export const recoveryWords = (
  v: { firstName: string; product: string; closes: Date; zone: string; link: string },
  locale: Locale = usualLocale,
): EmailWords => {
  const { hello, recovery } = emailWords(locale);
  return {
    locale,
    subject: recovery.subject(v.product),
    paragraphs: [hello(v.firstName), recovery.what(v.product), recovery.closes(fullMoment(v.closes, v.zone), zoneCity(v.zone))],
    link: { label: recovery.link, href: v.link },
  };
};

const escape = (text: string) => text.replace(/[&<>"]/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[c]!);

/** Who sends an email: their name, and the address that stands under it. */
export interface Signature {
  name: string;
  postalAddress: string;
}

/** Plain text and HTML of an email, with its footer. `unsubscribe` is undefined for receipts, which are no advertising. */
export const renderEmail = (words: EmailWords, vendor: Signature, unsubscribe?: string): { text: string; html: string } => {
  const { footer, unsubscribe: ends } = emailWords(words.locale);
  const address = [vendor.name, ...vendor.postalAddress.split("\n")].map((line) => line.trim()).filter(Boolean);
  const why = unsubscribe ? [footer(vendor.name)] : [];
  const text = [
    ...words.paragraphs,
    words.link ? `${words.link.label}: ${words.link.href}` : "",
    [...why, ...(unsubscribe ? [`${ends}: ${unsubscribe}`] : [])].join(" "),
    address.join("\n"),
  ]
    .filter(Boolean)
    .join("\n\n");
  const link = words.link
    ? `<p><a href="${escape(words.link.href)}" style="display:inline-block;background:#17695B;color:#ffffff;padding:10px 16px;text-decoration:none">${escape(words.link.label)}</a></p>`
    : "";
  const countdown = words.countdown
    ? `<p><img src="${escape(words.countdown.src)}" width="480" height="120" alt="${escape(words.countdown.says)}" style="max-width:100%;height:auto"></p>`
    : "";
  const foot = [
    ...why.map(escape),
    ...(unsubscribe ? [`<a href="${escape(unsubscribe)}" style="color:#66707C">${ends}</a>`] : []),
    ...(unsubscribe ? ["<br>"] : []),
    address.map(escape).join("<br>"),
  ].join(" ");
  // Lists of messages show what comes first: the first sentence, not the greeting.
  const preheader = words.paragraphs[1] ?? "";
  const body = words.paragraphs.map((p) => `<p style="margin:0 0 16px">${escape(p).replace(/\n/g, "<br>")}</p>`).join("");
  // Mail programs lay out tables, and forget the style of a body.
  const html = `<!doctype html><html lang="${words.locale.slice(0, 2)}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>${escape(words.subject)}</title></head><body style="margin:0;background:#F5F6F2"><div style="display:none;max-height:0;overflow:hidden">${escape(preheader)}</div><table role="presentation" width="100%" cellpadding="0" cellspacing="0" style="background:#F5F6F2"><tr><td align="center" style="padding:24px 12px"><table role="presentation" width="100%" cellpadding="0" cellspacing="0" style="max-width:600px;background:#ffffff"><tr><td style="padding:28px;font-family:Georgia,serif;font-size:16px;line-height:1.5;color:#141B26">${body}${countdown}${link}<p style="margin:24px 0 0;padding-top:16px;border-top:1px solid #D5DAD0;font-size:13px;color:#66707C">${foot}</p></td></tr></table></td></tr></table></body></html>`;
  return { text, html };
};
