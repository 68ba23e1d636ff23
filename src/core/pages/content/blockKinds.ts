import type { Block, BlockType, LeafBlock } from "./blocks";
import { richOf } from "./rich";

/** What each block is called at the desk, and words by which it is found when typed. */
export const blockKinds: Record<BlockType, { name: string; finds: string; says: string }> = {
  headline: { name: "Headline", finds: "title heading", says: "large words of the page's title face" },
  text: { name: "Text", finds: "letter paragraph words list", says: "paragraphs, lists and links" },
  picture: { name: "Picture", finds: "image photo drawing", says: "sized for every screen" },
  video: { name: "Video", finds: "film poster play", says: "a poster that plays, or opens a form" },
  form: { name: "Form", finds: "opt-in sign up address list", says: "takes an address for the list" },
  button: { name: "Button", finds: "link next", says: "leads on" },
  countdown: { name: "Countdown", finds: "clock time deadline", says: "the server's own deadline" },
  price: { name: "Price box", finds: "buy order amount", says: "the price that the checkout takes" },
  seats: { name: "Seats left", finds: "places scarcity", says: "counted, not claimed" },
  offer: { name: "Offer", finds: "yes no one-time downsell", says: "yes and no, in your words" },
  testimonial: { name: "Testimonial", finds: "quote voice praise", says: "what somebody said" },
  benefits: { name: "Benefits", finds: "list points what you get", says: "a list, marked" },
  questions: { name: "Questions", finds: "faq answers", says: "questions with their answers" },
  rule: { name: "Rule", finds: "divider line", says: "a line between two matters" },
  badges: { name: "Badges", finds: "trust strip facts", says: "a strip of short facts" },
  guarantee: { name: "Guarantee", finds: "refund money back promise", says: "the product's own refund time" },
  html: { name: "Own HTML", finds: "code embed frame", says: "in a frame of its own, shut off from the page" },
  download: { name: "Download", finds: "file gift pdf lead magnet", says: "a file to take away" },
  checkout: { name: "Order form", finds: "checkout payment card", says: "takes the order" },
  receipt: { name: "Receipt", finds: "order lines bought", says: "what was bought, with its tax" },
  episodes: { name: "Episode list", finds: "run series next unlock", says: "what plays, what is open, when the next opens" },
  live: { name: "Live session", finds: "webinar event join replay register", says: "register, join, watch it again" },
  comments: { name: "Comments", finds: "talk replies discussion", says: "shown once you have read them" },
  bump: { name: "Order bump", finds: "add-on tick checkout", says: "a small addition, never ticked beforehand" },
  addition: { name: "Offer in a page", finds: "before payment lesson add product", says: "adds a product to the order, or sells it by itself" },
  invitation: { name: "Partner invitation", finds: "affiliate partners recommend", says: "asks readers to sell with you" },
  cross: { name: "Cross-offer", finds: "another launch product next", says: "another launch, while it can be bought" },
  partner: { name: "Partner’s word", finds: "affiliate note introduced picture", says: "of the partner who sent this reader" },
  columns: { name: "Columns", finds: "side by side two three", says: "blocks side by side" },
};

const plain = { hide: [], space: "normal" } as const;
const base = (id: string) => ({ ...plain, hide: [], id });

/** A fresh block of a type. `newId` makes ids that no block of the page has. */
export const newBlock = (type: BlockType, newId: () => string): Block => {
  if (type === "columns")
    return { ...base(newId()), type, ratio: "even", columns: [[newLeaf("text", newId)], [newLeaf("picture", newId)]], lastFirst: false };
  return newLeaf(type, newId);
};

/** A fresh block of a type that may stand in a column. */
export const newLeaf = (type: Exclude<BlockType, "columns">, newId: () => string): LeafBlock => {
  const own = base(newId());
  switch (type) {
    case "headline":
      return { ...own, type, text: "", level: "heading", centred: false };
    case "text":
      return { ...own, type, rich: richOf(""), size: "normal" };
    case "picture":
      return { ...own, type, media: null, alt: "", decorative: false, shape: "own", caption: "" };
    case "video":
      return { ...own, type, media: null, url: null, poster: null, captions: null, label: "", press: null };
    case "form":
      return {
        ...own,
        type,
        over: false,
        heading: "",
        fields: [{ id: newId(), is: "firstName", label: "First name", required: true, kind: "text", choices: [] }],
        button: "Put me on the list",
        note: "",
        consent: "",
        double: "where_needed",
        checkPage: "",
        confirmedPage: "",
        then: null,
        gift: null,
      };
    case "button":
      return { ...own, type, label: "Go on", target: { to: "next" }, look: "main", note: "" };
    case "countdown":
      return { ...own, type, form: "inline" };
    case "price":
      return { ...own, type, words: "", button: "Go to the checkout", target: { to: "checkout", over: false } };
    case "seats":
      return { ...own, type, words: "seats left" };
    case "offer":
      return { ...own, type, yes: "Yes, add it to my order", no: "No, thank you" };
    case "testimonial":
      return { ...own, type, quote: "", name: "", role: "", media: null };
    case "benefits":
      return { ...own, type, items: [""], mark: "stitch" };
    case "questions":
      return { ...own, type, items: [{ question: "", answer: "" }], folded: false };
    case "rule":
      return { ...own, type, look: "hair" };
    case "badges":
      return { ...own, type, items: [""] };
    case "guarantee":
      return { ...own, type, heading: "", words: "" };
    case "html":
      return { ...own, type, title: "", code: "", height: "normal" };
    case "download":
      return { ...own, type, media: null, label: "Download it" };
    case "checkout":
      return { ...own, type, start: "Go on to the payment", pay: "Pay now" };
    case "receipt":
      return { ...own, type };
    case "episodes":
      return { ...own, type, heading: "The episodes" };
    case "live":
      return {
        ...own,
        type,
        heading: "",
        register: "Keep me a place",
        note: "",
        double: "where_needed",
        join: "Join now",
        media: null,
        url: null,
        captions: null,
      };
    case "comments":
      return { ...own, type, heading: "What you say", scope: "page", ask: "What do you make of it?", button: "Send it" };
    case "bump":
      return { ...own, type, product: null, heading: "", words: "", tick: "Yes, add it to my order", media: null };
    case "addition":
      return { ...own, type, product: null, heading: "", words: "", yes: "Yes, add it to my order", no: "", media: null };
    case "invitation":
      return { ...own, type, heading: "Do you know others who would like it?", words: "", button: "I would like to be a partner" };
    case "cross":
      return { ...own, type, launch: "", words: "", button: "See it", media: null };
    case "partner":
      return { ...own, type, words: "You come from" };
  }
};
