import { counted } from "../figures";

export interface EmailWords {
  subject: string;
  paragraphs: string[];
  link?: { label: string; href: string };
  /** The reader's own deadline as a picture, with the same in words for who sees none. */
  countdown?: { src: string; says: string };
}

const hello = (firstName: string): string => (firstName ? `Hello ${firstName},` : "Hello,");

/** An address waits to be confirmed: nothing else is sent to it before. */
export const confirmWords = (v: { launch: string; link: string }): EmailWords => ({
  subject: `Is this your address? ${v.launch}`,
  paragraphs: [
    "Hello,",
    `somebody gave this address for the list of ${v.launch}. If it was you, press the link, and you are on it.`,
    "If it was not you, do nothing: nothing else will be sent.",
  ],
  link: { label: "Yes, put me on the list", href: v.link },
});

/** Somebody is invited to the vendor's team. */
export const invitationWords = (v: { by: string; vendor: string; role: string; days: number; link: string }): EmailWords => ({
  subject: `${v.by} invites you to the desk of ${v.vendor}`,
  paragraphs: [
    "Hello,",
    `${v.by} invites you to work at the desk of ${v.vendor}, as ${v.role}. Press the link, say your name and choose a password.`,
    `The link holds for ${counted(v.days, "day")}. If you do not know ${v.by}, do nothing.`,
  ],
  link: { label: "Join the team", href: v.link },
});

const passwordFor = { desk: "the desk", partner: "the partner portal", buyer: "your library" } as const;
/** Somebody asked for a new password. */
export const newPasswordWords = (v: { name: string; vendor: string; kind: keyof typeof passwordFor; link: string }): EmailWords => ({
  subject: `A new password for ${passwordFor[v.kind]}, ${v.vendor}`,
  paragraphs: [
    hello(v.name),
    `by this link you choose a new password for ${passwordFor[v.kind]}. It holds for a day, and once.`,
    "If you did not ask for it, do nothing: your password stays as it is.",
  ],
  link: { label: "Choose a new password", href: v.link },
});

/** Somebody asked to be let into their library. */
export const libraryWords = (v: { firstName: string; link: string }): EmailWords => ({
  subject: "The link to your library",
  paragraphs: [
    hello(v.firstName),
    "this link opens your library: your orders, receipts and what you pay month by month. It holds for a day.",
    "If you did not ask for it, do nothing.",
  ],
  link: { label: "Open my library", href: v.link },
});

/** An email of the vendor's that hangs on a bell. */
export const bellEmailWords = (v: {
  firstName: string;
  subject: string;
  text: string;
  link: string;
  countdown?: EmailWords["countdown"];
}): EmailWords => ({
  subject: v.subject,
  paragraphs: [hello(v.firstName), ...v.text.split(/\n{2,}/), ...(v.countdown ? [`${v.countdown.says}.`] : [])],
  countdown: v.countdown,
  link: { label: "Go to the page", href: v.link },
});

/** An opt-in is answered: when the doors open, and where. */
export const welcomeWords = (v: {
  firstName: string;
  launch: string;
  /** The bell that comes next for this person, in a sentence; undefined where none does. */
  bell?: string;
  link: string;
  open: boolean;
  countdown?: EmailWords["countdown"];
  /** What the form promised. */
  gift?: { name: string; href: string };
}): EmailWords => ({
  subject: `You are on the list for ${v.launch}`,
  paragraphs: [
    hello(v.firstName),
    v.open ? `the doors of ${v.launch} are open to you now.` : `you will find ${v.launch} at the address below.`,
    ...(v.bell ? [`${v.bell}.`] : []),
    ...(v.gift ? [`What was promised, ${v.gift.name}, is here: ${v.gift.href}`] : []),
  ],
  countdown: v.countdown,
  link: { label: v.open ? "See the offer" : "See the countdown", href: v.link },
});

/** The receipt of an order. Amounts come formatted. */
export const receiptWords = (v: {
  firstName: string;
  number: string;
  lines: { name: string; gross: string; tax: string }[];
  total: string;
  tax: string;
  /** A business that accounts for the tax itself. */
  vatNumber?: string;
  /** The code that was used, and what it took off before tax. */
  code?: { name: string; discount: string };
  /** What is charged later, in words. */
  recurring?: string[];
  /** Whether it only tries things out. */
  test?: boolean;
  /** What is only held on the card until it is sent, in words. */
  authorized?: string;
  /** Where all orders of the buyer stand. */
  library?: string;
  link: string;
}): EmailWords => ({
  subject: `${v.test ? "[Test] " : ""}Your receipt, order ${v.number}`,
  paragraphs: [
    hello(v.firstName),
    v.test ? "this order was made in test mode: nothing was charged, and it counts nowhere." : "thank you for your order.",
    ...v.lines.map((line) => `${line.name}: ${line.gross}, of it tax ${line.tax}`),
    `${v.authorized ? "In all" : "Paid"} ${v.total}, of it tax ${v.tax}. Order ${v.number}.`,
    ...(v.code ? [`The code ${v.code.name} took ${v.code.discount} off, before tax.`] : []),
    ...(v.authorized ? [v.authorized] : []),
    ...(v.recurring ?? []),
    ...(v.vatNumber ? [`Reverse charge: ${v.vatNumber} accounts for the tax.`] : []),
    ...(v.library ? [`All your orders stand in your library: ${v.library}`] : []),
  ],
  link: { label: "See your order", href: v.link },
});

/** The one email to a person who left an address at the checkout and did not pay. */
export const recoveryWords = (v: { firstName: string; product: string; closes: string; link: string }): EmailWords => ({
  subject: `Your place at ${v.product} is not paid yet`,
  paragraphs: [
    hello(v.firstName),
    `you began an order of ${v.product} and did not finish it. Nothing was charged. The link below brings back the checkout as you left it.`,
    `The doors close on ${v.closes}.`,
  ],
  link: { label: "Finish my order", href: v.link },
});

const escape = (text: string) => text.replace(/[&<>"]/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[c]!);

/** Plain text and HTML of an email, with its footer. `unsubscribe` is undefined for receipts, which are no advertising. */
export const renderEmail = (words: EmailWords, vendor: string, unsubscribe?: string): { text: string; html: string } => {
  const footer = unsubscribe ? `You get this because you asked ${vendor} for it, or began an order. Unsubscribe: ${unsubscribe}` : vendor;
  const text = [...words.paragraphs, words.link ? `${words.link.label}: ${words.link.href}` : "", footer].filter(Boolean).join("\n\n");
  const link = words.link
    ? `<p><a href="${escape(words.link.href)}" style="display:inline-block;background:#17695B;color:#ffffff;padding:10px 16px;text-decoration:none">${escape(words.link.label)}</a></p>`
    : "";
  const countdown = words.countdown
    ? `<p><img src="${escape(words.countdown.src)}" width="480" height="120" alt="${escape(words.countdown.says)}" style="max-width:100%;height:auto"></p>`
    : "";
  const foot = unsubscribe
    ? `You get this because you asked ${escape(vendor)} for it, or began an order. <a href="${escape(unsubscribe)}">Unsubscribe</a>`
    : escape(vendor);
  const html = `<!doctype html><html lang="en"><body style="font-family:Georgia,serif;font-size:16px;line-height:1.5;color:#141B26">${words.paragraphs
    .map((p) => `<p>${escape(p)}</p>`)
    .join("")}${countdown}${link}<p style="font-size:13px;color:#66707C">${foot}</p></body></html>`;
  return { text, html };
};
