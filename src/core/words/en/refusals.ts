import { formatMoney, type Locale } from "../../money";
import { counted } from "../counted";
import { fullMoment, shortMoment, zoneCity } from "../moments";

/** What a request may look for in vain. */
const things = {
  access: "access",
  address: "page at this address",
  application: "application",
  archived_page: "archived page",
  audience: "audience",
  charge: "charge",
  checkout: "checkout",
  checkout_page: "checkout page",
  comment: "comment",
  coupon: "coupon",
  email: "email",
  endpoint: "endpoint",
  filter: "saved filter",
  form: "form",
  import: "file of people",
  invitation: "invitation",
  launch: "launch",
  offer_page: "offer page",
  order: "order",
  page: "page",
  partner: "partner",
  person: "person",
  picture: "picture",
  product: "product",
  recurring_payment: "recurring payment",
  refund: "refund",
  signing_domain: "domain that emails come from",
  signing_key: "key",
  step: "step",
  subscription: "subscription",
  template: "template",
  upload: "upload",
  webhook: "webhook",
  webhook_message: "message",
  version: "version",
  work: "work any more: it may be done already",
} as const;
export type Thing = keyof typeof things;

/** What did not happen because of fields that are wrong. */
const outcomes = {
  nothing_saved: "Nothing was saved yet.",
  nothing_changed: "Nothing was changed.",
  nothing_added: "Nothing was added.",
  nothing_charged: "Nothing was charged.",
  nothing_copied: "Nothing was copied.",
  nothing_imported: "Nothing was imported.",
  nothing_refunded: "Nothing was refunded.",
  nothing_entered: "Nothing was entered.",
  nobody_invited: "Nobody was invited.",
  last_version_kept: "The last good version is kept.",
} as const;
export type Outcome = keyof typeof outcomes;

/** Where someone signs in. */
const doors = {
  desk: "Sign in at the desk first.",
  partner: "Sign in to the partner portal first.",
  library: "Sign in to your library first.",
} as const;

/** Where a link leads whose time is over, and how to get another. */
const lapsed = {
  library: "This link is not valid any more, or was used. Ask for another below.",
  password: "This link is not valid any more, or was used. Ask for another.",
  first_owner: "This address is not valid any more. Start Ink Bell again: it prints a new one until the first owner is in.",
  invitation: "This invitation is not valid any more. Ask whoever invited you for another.",
  partner: "This link is not valid any more. Ask the vendor for another.",
  order: "This link to an order is not valid any more.",
} as const;

/** What two people changed at once. */
const changed = {
  page: "Somebody else saved this page since you opened it. Yours is kept here, and nothing of theirs is overwritten.",
  published: "Somebody else saved this page since you looked at it. Nothing was published; look at theirs first.",
  email: "Somebody else saved this email since you opened it. Yours is kept here, and nothing of theirs is overwritten.",
  path: "Somebody else changed this path since you opened it. Nothing of theirs is overwritten; look at theirs first.",
  product: "Somebody else has changed this product since you opened it. Nothing was overwritten: reload to see it; what you typed is still here.",
  sending: "Somebody else has changed how emails are sent since you opened this. Nothing was overwritten: reload to see it.",
  vendor: "Somebody else has changed these details since you opened them. Nothing was overwritten: reload to see them; what you typed is still here.",
  person: "This record has changed since you opened it. Nothing was overwritten: reload to see it; what you typed is still here.",
  clock: "Somebody else changed the time of this launch since you opened it. Nothing was overwritten: reload to see it.",
  launch: "Somebody changed this launch at the same moment. Nothing was archived: look at it again.",
} as const;

/** Why something cannot be archived or deleted. */
const uses = {
  coupon_used: "Somebody used this coupon. End it and archive it instead.",
  one_checkout: "A launch has one checkout page, and this one has another by now.",
  page_seen: "People saw this page, and figures count on it. It stays in the archive.",
} as const;

/** What keeps a launch from being deleted. */
const traces = {
  people: "people came to it",
  orders: "orders belong to it",
  published: "pages of it were public",
  listings: "it is listed on a marketplace",
  emails: "emails were written for it",
  partners: "partners belong to it",
} as const;
export type Trace = keyof typeof traces;

/** What was tried too often. */
const tried = {
  request: "Too many tries.",
  password: "Too many wrong passwords.",
} as const;
export type Tried = keyof typeof tried;

const wait = (seconds: number): string => (seconds < 90 ? counted(seconds, "second") : counted(Math.ceil(seconds / 60), "minute"));

const closed = ({ own, zone }: { own?: Date | undefined; zone: string }): string =>
  `${own ? `Your time for this offer ended on ${fullMoment(own, zone)}, ${zoneCity(zone)} time.` : "The doors are closed."} Nothing was charged.`;

/**
 * Why requests are refused, in English: what happened, what was kept, what to do. Each is a sentence, or made from the data of its refusal. Codes are
 * the same in every language.
 */
export const refusals = {
  fields: ({ outcome }: { outcome: Outcome }) => `Some fields need another look. ${outcomes[outcome]}`,
  not_found: ({ what }: { what: Thing }) => `There is no such ${things[what]}.`,
  no_page: "Look at the link again: perhaps a letter is missing.",
  no_pages_here: "This process works in the background, and answers no pages.",
  odd_address: "Its address is not written as this site writes them.",
  method: ({ method }: { method: string }) => `This address does not take ${method}.`,
  not_a_form: "This form cannot be read.",
  takes_a_form: "This address takes a form.",
  not_text: "The request holds a character that cannot be kept (NUL).",
  not_json: "The request is not JSON.",
  unreadable_header: "A header of this request cannot be read.",
  too_large: ({ mostBytes: most }: { mostBytes: number }) => {
    if (most === 0) return "This address takes no content.";
    const size = most >= 1024 * 1024 ? `${Math.round(most / 1024 / 1024)} MB` : `${Math.round(most / 1024)} KB`;
    return `${size} is the most that can be sent here. Nothing was kept.`;
  },
  stale_notice: "This notice is too old, or from the future. Nothing was changed.",
  bad_signature: "The signature of this notice does not fit. Nothing was changed.",
  wrong_origin: "This request does not come from this site. Nothing was changed.",
  signed_out: ({ at }: { at: keyof typeof doors }) => doors[at],
  not_allowed: ({ role, may }: { role: string; permission: string; may: string }) => `Signed in as ${role}: this needs ${may}.`,
  wrong_login: "Address and password do not belong together.",
  too_many: ({ tried: what, retryAfterSeconds }: { tried: Tried; retryAfterSeconds: number }) =>
    what === "request"
      ? `${tried.request} Wait ${wait(retryAfterSeconds)} and try again; nothing was changed.`
      : `${tried[what]} Try again in ${wait(retryAfterSeconds)}. Whoever is signed in stays so.`,
  link_over: ({ to }: { to: keyof typeof lapsed }) => lapsed[to],
  invitation_taken: "This invitation was taken up just now.",
  last_owner: "This is the last owner. Make somebody else an owner first; nothing was changed.",
  changed_meanwhile: ({ what }: { what: keyof typeof changed }) => changed[what],

  archived: "This launch is archived. Restore it first, under Launches.",
  doors_open: ({ closes, zone }: { closes: Date; zone: string }) =>
    `The doors are open until ${shortMoment(closes, zone)}, and checkouts may finish a little after. Archive it once they have closed.`,
  doors_will_open: ({ opens, zone }: { opens: Date; zone: string }) =>
    `Its doors will open on ${shortMoment(opens, zone)}. Give it dates that are over first, in Clock.`,
  always_on: "It is always on, so people can still come to it. Give it dates that are over first, in Clock.",
  launch_in_use: (by: { trace: Trace } | { handsOver: string }) =>
    `It cannot be deleted: ${"trace" in by ? traces[by.trace] : `the clock of “${by.handsOver}” hands people on to it`}.`,
  nothing_to_undo: "There is nothing to undo: this is how the launch began.",

  page_in_use: ({ use }: { use: string }) => `It cannot be archived yet. ${use}`,
  in_use: ({ by }: { by: keyof typeof uses }) => uses[by],
  no_step: "This page stands on no step of the offer path, so there is nothing to offer on it. Put it there first, in Offers.",
  gap: ({ says, why }: { says: string; why: string }) => `${says} ${why}`,
  one_version: "Pages of an order have one version: what is ordered there must be the same for everyone.",
  enough_variants: "Four variants are as many as visitors can tell apart in the time of a launch.",
  never_published: "This variant was never published, so nobody has seen it win.",

  address_taken: ({ address }: { address: string }) =>
    `Another page stands at /${address} already. Give it another address first; nothing was added.`,
  cycle: ({ through }: { through: string[] }) => `That would go in a circle: ${through.join(", ")}. Nothing was changed.`,
  edge_to_nothing: "There is no such step. Nothing was changed.",
  condition: "This condition is not understood.",
  erasure_blocked: ({ by }: { by: "recurring_payment" | "payment" }) =>
    by === "payment"
      ? "A payment of theirs is on its way. Try again in a few minutes."
      : "They have a subscription or instalments that run. End those first; nothing was erased.",
  same_person: "This is the same record.",
  test_not_sent: "The mail server did not take it. Nothing was sent; try again in a moment.",
  opted_out_themself: "They asked for no more emails of this launch themselves. They alone can ask for them again, on a form.",
  import_state: "This file is being worked on, or is done. Load the page again to see how it stands.",
  coupon_runs: "This coupon is still valid. End it first.",

  sells_nothing: "This launch sells nothing yet, so it has no checkout to test.",
  not_published: "This launch is not published yet, so nothing can be paid here.",
  doors_not_open: ({ personal }: { personal: boolean }) =>
    `${personal ? "This offer opens for each person on their own. Ask for it on its first page." : "The doors are not open yet."} Nothing was charged.`,
  doors_closed: closed,
  grace_over: closed,
  sold_out: "All seats are taken. Nothing was charged.",
  list_only: "The seats that came back are for those on the list. Nothing was charged.",
  not_offered: "This is not offered any more. Nothing was added.",
  bump_gone: "This addition is not offered any more. Nothing was added.",
  price_changed: "The price has changed since this page was shown. Nothing was charged: look at the new total first.",
  seats_taken: ({ product }: { product: string }) => `The last ${product} has just been taken. Nothing was charged.`,
  not_on_sale: ({ product }: { product: string }) => `${product} is not sold at the moment. Nothing was charged.`,
  limit_reached: ({ product, most, left }: { product: string; most: number; left: number }) =>
    left > 0
      ? `One person may buy ${product} ${counted(most, "time")}; ${left} ${left === 1 ? "is" : "are"} left for you. Nothing was charged.`
      : `You have ${product} already, ${most === 1 ? "and one person may buy it once" : `as often as one person may buy it (${counted(most, "time")})`}. Nothing was charged.`,
  owed: "These payments are parts of a price, and end when it is paid.",

  paid_by_hand: "This was paid outside the checkout, and goes back the way it came.",
  sold_elsewhere: "The marketplace sold this, and refunds what it took.",
  no_payment: "There is no card payment behind this line, so nothing can be refunded to a card.",
  only_authorized: ({ minor, currency }: { minor: number; currency: string }, locale: Locale) =>
    `This payment is only authorized on the card: release all ${formatMoney(minor, currency, locale)}, or capture it first.`,
  nothing_authorized: "Nothing is authorized on this order's card any more: look at its payments.",
  being_voided: "This payment is being released, so it is not captured. Look again in a moment.",
  no_lines: "There is nothing on this order to send a receipt of.",

  marketplace: ({ answer }: { answer: string }) => answer,
  wrong_state: ({ state }: { state: "live" | "submitted" }) =>
    state === "live" ? "The listing is live, so this cannot change now." : "The listing is under review, so this cannot change now.",
  already_submitted: "The listing is already submitted.",
  gaps_open: ({ rules, of }: { rules: readonly string[]; of: number }) =>
    `Still open: ${rules.length} of ${counted(of, "rule")}. Nothing was submitted.`,
  pages_missing: "Publish the sales page, the checkout and the thank-you page first; then a test order can be made.",
  decided: "Somebody has decided this application already.",
} as const;
