import type { PageKind } from "../../launch";
import type { PageContent } from "../content/content";
import { builder, idsFrom, pageOf, type Builder } from "./build";
import type { Section } from "../content/blocks";
import { mapLeaves } from "../content/tree";

export { builder, idsFrom, pageOf, type Builder } from "./build";

/** What a page is for, as the trade names it; several purposes share a kind. */
export const purposes = [
  "waiting list",
  "opt-in",
  "opt-in over a video",
  "confirm your address",
  "episode",
  "sales",
  "checkout",
  "offer",
  "downsell",
  "thank-you",
  "library lesson",
  "closed",
] as const;
export type Purpose = (typeof purposes)[number];

export interface Template {
  id: string;
  purpose: Purpose;
  name: string;
  kind: PageKind;
  /** The page for a product of this name. */
  make: (product: string) => PageContent;
}

const template = (id: string, purpose: Purpose, name: string, kind: PageKind, sections: (b: Builder, product: string) => Section[]): Template => ({
  id,
  purpose,
  name,
  kind,
  make: (product) => pageOf(sections(builder(idsFrom("b")), product)),
});

const promise = "Say here what the buyer will be able to do afterwards that they cannot do today.";

/**
 * Words that stand in a template for the vendor's own: instructions, and what would be untrue of anything that is sold. A
 * page that still says one of them is not finished. Those that begin with “Say” are known by that.
 */
const standIns: ReadonlySet<string> = new Set([
  "The first thing",
  "The second",
  "The third",
  "Then say how you know, and what it took you to find out.",
  "What somebody said who has done it.",
  "Their name",
  "what they do",
  "Part by part: what happens, what comes out of it, how long it takes.",
  "Who it is not for, and what they should do instead.",
  "What it adds",
  "How it fits what you have",
  "What the smaller one holds",
  "What only the large one holds",
  "What this lesson is about",
  "What to have at hand, and what to do.",
  "First do this",
  "Then this",
  "And look at it from afar",
]);
/** Whether some line of a text is still a template's own words, which the vendor is to replace. */
export const isStandIn = (text: string): boolean =>
  text.split("\n").some((line) => /^Say (here|in one sentence|for whom|what|when)\b/.test(line.trim()) || standIns.has(line.trim()));

/** What a thank-you page carries below the receipt: another launch, a word on the next one, and the invitation to partners. */
const afterThanks = (b: Builder): Section[] => [
  b.section([b.made("cross", { words: "Say here why it goes well with what was bought." })], { width: "narrow", space: "small" }),
  b.section(
    [
      b.heading("Shall we tell you of the next one?"),
      b.form("Write to me", { note: "About the next one, and nothing else." }),
      b.made("invitation", { words: "Say here what partners earn, and how they are told." }),
    ],
    { ground: "sunk", width: "narrow" },
  ),
];

export const templates: readonly Template[] = [
  template("waiting-bill", "waiting list", "Poster", "optin", (b, product) => [
    b.section([
      b.title(`${product} opens soon.`),
      b.columns([b.lead("Leave your address and you will be told the moment the doors open."), b.form("Tell me when it opens")], [b.picture()], {
        ratio: "left",
      }),
    ]),
  ]),
  template("waiting-card", "waiting list", "Card", "optin", (b, product) => [
    b.section(
      [
        b.title(`${product}: the doors are not open yet.`, true),
        b.made("countdown", { form: "card" }),
        b.lead("Those on the list hear of the day and the hour before anybody else."),
        b.form("Put me on the list"),
      ],
      { width: "narrow" },
    ),
  ]),
  template("optin-side", "opt-in", "Side by side", "optin", (b, product) => [
    b.section([
      b.title(`Three things to know before ${product}.`),
      b.made("partner", {}),
      b.columns(
        [
          b.lead("Say here what the emails hold, and what the reader can do once they have read them."),
          b.benefits(["The first thing", "The second", "The third"]),
        ],
        [b.form("Send me the first", { heading: "Where shall it go?" })],
        { ratio: "left" },
      ),
    ]),
  ]),
  template("optin-long", "opt-in", "With questions", "optin", (b, product) => [
    b.section(
      [b.title(`${product} opens soon.`), b.lead("Say in one sentence for whom this is."), b.button("Write to me", { to: "form", block: "ask" })],
      { width: "narrow" },
    ),
    b.section([b.heading("What you get"), b.benefits(["An email with the day and the hour", "The first part, free to read"])], {
      width: "narrow",
      ground: "sunk",
    }),
    b.section([b.form("Put me on the list", { id: "ask", over: true, heading: "Where shall we write?" })], { width: "narrow", space: "none" }),
  ]),
  template("film-press", "opt-in over a video", "Press the poster", "optin", (b, product) => [
    b.section(
      [
        b.title(`See how ${product} begins.`, true),
        b.made("partner", {}),
        b.made("video", { label: `A short film about ${product}`, press: { to: "form", block: "ask" } }),
        b.lead("Press the picture: the film comes to your inbox, and the day the doors open with it."),
        b.form("Send me the film", { id: "ask", over: true, heading: "Where shall the film go?" }),
      ],
      { width: "narrow" },
    ),
  ]),
  template("film-below", "opt-in over a video", "Video, then form", "optin", (b, product) => [
    b.section([b.made("video", { label: `A short film about ${product}` }), b.title(`${product}, in three minutes.`)], { ground: "second" }),
    b.section([b.columns([b.lead("Say here what the film leaves open, and where the answer is.")], [b.form("Tell me the rest")])]),
  ]),
  template("confirm-inbox", "confirm your address", "Check your inbox", "content", (b) => [
    b.section(
      [
        b.title("One press is left: look into your inbox."),
        b.lead("An email with a link is on its way. Press the link, and you are on the list. Until then nothing else is sent to you."),
        b.benefits(["Open the email that has just come", "Press the link in it", "Not there? Look into the folder for unwanted post"], "number"),
      ],
      { width: "narrow" },
    ),
  ]),
  template("confirm-done", "confirm your address", "Confirmed", "content", (b, product) => [
    b.section([b.title("Your address is confirmed."), b.lead(`You are on the list of ${product}.`), b.button("Go on")], { width: "narrow" }),
  ]),
  template("episode-film", "episode", "Video", "content", (b, product) => [
    b.section([
      b.made("video", { label: `An episode before ${product} opens` }),
      b.title("Episode"),
      b.columns([b.lead(`Say here what a visitor learns before ${product} opens.`), b.button("Go on")], [b.made("episodes", {})], { ratio: "left" }),
    ]),
    b.section([b.made("comments", {})], { ground: "sunk", width: "narrow" }),
  ]),
  template("episode-live", "episode", "Live session", "content", (b, product) => [
    b.section([
      b.title("Live"),
      b.columns([b.lead(`Say here what happens in the hour before ${product} opens.`), b.made("live", {})], [b.made("episodes", {})], {
        ratio: "left",
      }),
    ]),
  ]),
  template("episode-read", "episode", "Article", "content", (b, product) => [
    b.section(
      [b.title("Episode"), b.text(`Say here what a visitor learns before ${product} opens.`), b.picture(), b.button("Go on"), b.made("episodes", {})],
      {
        width: "narrow",
      },
    ),
  ]),
  template("sales-poster", "sales", "Poster", "sales", (b, product) => [
    b.section([b.title(`${product} is open.`), b.columns([b.lead(promise), b.price("Go to the checkout")], [b.picture()], { ratio: "left" })]),
    b.section([b.heading("What you take home"), b.benefits(["The first thing", "The second", "The third"])], { ground: "sunk" }),
    b.section([
      b.heading("Questions"),
      b.questions([
        ["Is it for me?", "Say for whom it is, and for whom not."],
        ["When does it begin?", "Say what happens after the order."],
      ]),
      b.made("guarantee", { heading: "Time to change your mind", words: "Write to us within this time and the money goes back." }),
    ]),
  ]),
  template("sales-letter", "sales", "Long letter", "sales", (b, product) => [
    b.section(
      [
        b.title(`${product} is open, and this letter says for whom.`),
        b.text(`Dear reader,\n\n${promise}\n\nThen say how you know, and what it took you to find out.`),
        b.heading("What is in it"),
        b.text("Part by part: what happens, what comes out of it, how long it takes."),
        b.made("testimonial", { quote: "What somebody said who has done it.", name: "Their name", role: "what they do" }),
        b.heading("What it costs"),
        b.price("Go to the checkout"),
        b.text("Who it is not for, and what they should do instead."),
        b.made("guarantee", { heading: "Time to change your mind", words: "Write to us within this time and the money goes back." }),
        b.button("Go to the checkout", { to: "checkout", over: false }, { look: "plain" }),
      ],
      { width: "narrow" },
    ),
  ]),
  template("sales-over", "checkout", "Over the page", "sales", (b, product) => [
    b.section(
      [
        b.title(`${product} is open.`, true),
        b.lead(promise),
        b.price("Order it here", { target: { to: "checkout", over: true } }),
        b.made("badges", { items: ["The order opens over this page", "Total with tax before you pay"] }),
      ],
      { width: "narrow" },
    ),
  ]),
  template("checkout-plain", "checkout", "Page", "checkout", (b) => [
    b.section([b.title("Your order"), b.lead("The total, with its tax, before you pay. The receipt comes by email."), b.made("checkout", {})], {
      width: "narrow",
    }),
  ]),
  template("checkout-beside", "checkout", "Page, with what you get beside it", "checkout", (b, product) => [
    b.section([
      b.title("Your order"),
      b.columns(
        [b.made("checkout", {})],
        [
          b.small(product),
          b.benefits(["The first thing", "The second"]),
          b.made("guarantee", { heading: "Time to change your mind", words: "Write to us and the money goes back." }),
        ],
        {
          ratio: "left",
        },
      ),
    ]),
  ]),
  template("offer-bill", "offer", "Poster", "offer", (b) => [
    b.section([
      b.title("One thing more, only here."),
      b.columns([b.lead("Say here why this goes well with what was just bought."), b.made("offer", {})], [b.picture()], { ratio: "left" }),
    ]),
  ]),
  template("offer-film", "offer", "Video first", "offer", (b) => [
    b.section(
      [
        b.title("Wait: your order can be more.", true),
        b.made("video", { label: "What is offered, in a minute" }),
        b.benefits(["What it adds", "How it fits what you have"]),
        b.made("offer", {}),
      ],
      { width: "narrow" },
    ),
  ]),
  template("downsell-plain", "downsell", "Plain", "offer", (b) => [
    b.section(
      [
        b.title("Only the part you need?"),
        b.lead("Say here what the smaller one holds, and what it leaves out."),
        b.made("offer", { yes: "Yes, the smaller one", no: "No, thank you" }),
      ],
      {
        width: "narrow",
      },
    ),
  ]),
  template("downsell-compare", "downsell", "Side by side", "offer", (b) => [
    b.section([
      b.title("The same, smaller."),
      b.columns(
        [b.small("In it"), b.benefits(["What the smaller one holds"])],
        [b.small("Left out"), b.benefits(["What only the large one holds"], "rule")],
      ),
      b.made("offer", { yes: "Yes, the smaller one", no: "No, thank you" }),
    ]),
  ]),
  template("thanks-receipt", "thank-you", "Receipt", "thanks", (b) => [
    b.section(
      [
        b.title("Thank you."),
        b.lead("The receipt is on its way to your inbox."),
        b.made("receipt", {}),
        b.button("Back to the start", { to: "next" }, { look: "plain" }),
      ],
      { width: "narrow" },
    ),
    ...afterThanks(b),
  ]),
  template("thanks-more", "thank-you", "Receipt, and what comes next", "thanks", (b) => [
    b.section([
      b.title("Thank you."),
      b.columns(
        [b.lead("The receipt is on its way to your inbox."), b.made("receipt", {})],
        [b.small("First steps"), b.benefits(["Look into your inbox", "Set an hour aside"], "number")],
        { ratio: "left" },
      ),
    ]),
    ...afterThanks(b),
  ]),
  template("lesson-film", "library lesson", "Video and text", "content", (b) => [
    b.section(
      [
        b.small("Lesson"),
        b.title("What this lesson is about"),
        b.made("video", { label: "The lesson" }),
        b.text("What to have at hand, and what to do."),
        b.button("Go on"),
      ],
      { width: "narrow" },
    ),
  ]),
  template("lesson-steps", "library lesson", "Steps", "content", (b) => [
    b.section([
      b.small("Lesson"),
      b.title("What this lesson is about"),
      b.columns([b.benefits(["First do this", "Then this", "And look at it from afar"], "number")], [b.picture()]),
      b.button("Go on"),
    ]),
  ]),
  template("closed-list", "closed", "With a list", "closed", (b) => [
    b.section([
      b.title("The doors are closed."),
      b.columns([b.lead("Leave your address and you will be told the next time."), b.form("Tell me next time")], [b.picture()], { ratio: "left" }),
    ]),
  ]),
  template("closed-word", "closed", "Message only", "closed", (b, product) => [
    b.section([b.title("The doors are closed.", true), b.lead(`${product} is not sold at the moment. Say here when, or where to look meanwhile.`)], {
      width: "narrow",
    }),
  ]),
];

export const templateOf = (id: string): Template | undefined => templates.find((one) => one.id === id);

/** The templates that a new launch's own pages begin with. */
const first: Record<PageKind, string> = {
  optin: "waiting-bill",
  sales: "sales-poster",
  checkout: "checkout-plain",
  offer: "offer-bill",
  thanks: "thanks-receipt",
  closed: "closed-list",
  content: "episode-read",
};

/** The page of a kind that a new launch begins with. */
export const firstPage = (kind: PageKind, product: string): PageContent => templateOf(first[kind])!.make(product);

/** The opt-in page that a launch begins with whose doors are always open, each for a time of one's own. */
export const alwaysOnOptIn = (product: string): PageContent => {
  const b = builder(idsFrom("b"));
  return pageOf([
    b.section([
      b.title(`${product}, whenever you are ready.`),
      b.columns([b.lead("Leave your address, and your own time begins: the page says until when."), b.form("Begin")], [b.picture()], {
        ratio: "left",
      }),
    ]),
  ]);
};

/** The same page with a button at its end that leads to another page of the launch. */
export const withLinkTo = (content: PageContent, label: string, page: string, newId: () => string): PageContent => {
  const b = builder(newId);
  return { ...content, sections: [...content.sections, b.section([b.button(label, { to: "page", page })], { width: "narrow", space: "small" })] };
};

/** The same page with another title. */
export const withHeadline = (content: PageContent, text: string): PageContent => {
  let done = false;
  return mapLeaves(content, (leaf) => {
    if (done || leaf.type !== "headline") return leaf;
    done = true;
    return { ...leaf, text };
  });
};

/** The page that an episode of the run-up begins with. */
export const episodePage = (product: string, number: number): PageContent => withHeadline(firstPage("content", product), `Episode ${number}`);
