import type { LaunchPage } from "../../launch";
import { blockGaps, hrefOf, pageLeaves, targetsOf, type Media, type PageGap, type RichInline, type RichText } from "../../pages";
import type { EmailKindName } from "../kinds";
import { wordsOfBlock, type EmailContent } from "./emailContent";
import { brokenFields, fieldsWithoutElse, fieldText, type MergeField } from "./mergeFields";

/** What an email lacks, or says that may not be true. One with a blocking gap is not published. */
export type EmailGap = PageGap;

export interface EmailGapFacts {
  kind: EmailKindName;
  source: { slug: string; pages: LaunchPage[] };
  /** Where the pages of the launch are, `https://shop.example`. */
  origin: string;
  /** The wall times of the opening and the closing bell, `18:00`; none where everybody has a clock of their own. */
  bells: string[];
  media: readonly Media[];
}

/** A picture heavier than this is slow on a phone; common practice, no source. */
const heavyBytes = 400_000;

const linksIn = (rich: RichText): string[] => {
  const inline = (parts: readonly RichInline[] = []) =>
    parts.flatMap((part) => (part.type === "text" ? (part.marks ?? []).flatMap((mark) => (mark.type === "link" ? [mark.attrs.href] : [])) : []));
  return rich.content.flatMap((node) => {
    if (node.type === "paragraph" || node.type === "heading") return inline(node.content);
    if (node.type === "blockquote") return node.content.flatMap(({ content }) => inline(content));
    return node.content.flatMap((item) => item.content.flatMap(({ content }) => inline(content)));
  });
};

/** Where a link of ours leads to nothing; undefined for links that are sound, and for those to other sites. */
const deadLink = (href: string, { origin, source }: EmailGapFacts): string | undefined => {
  const at = new URL(href);
  if (at.origin !== origin) return undefined;
  const own = `/l/${source.slug}`;
  if (at.pathname !== own && !at.pathname.startsWith(`${own}/`)) return undefined;
  const slug = at.pathname.slice(own.length + 1);
  const page = source.pages.find((one) => one.slug === slug);
  return slug === "" || page?.published ? undefined : at.pathname;
};

/** Times of day in words, but for those in fields. */
const timesIn = (text: string): string[] => [...text.matchAll(/\b([01]?\d|2[0-3]):([0-5]\d)\b/g)].map(([, h, m]) => `${h!.padStart(2, "0")}:${m}`);

/** Fields that are empty for some readers: an email on a bell, and one to a lost buyer, goes to nobody without a deadline. */
const mayBeEmpty = (kind: EmailKindName): MergeField[] => [
  "first name",
  "partner",
  ...(kind === "welcome" ? (["deadline", "opening"] as const) : []),
];

const textGaps = (text: string, at: Pick<EmailGap, "block" | "field">, { bells, kind }: EmailGapFacts): EmailGap[] => [
  ...brokenFields(text).map((found) => ({
    code: "broken_field",
    blocking: true,
    ...at,
    says: `${found} is not a field.`,
    why: "It would be read as it stands. A field is typed in one piece, without bold or a link inside it.",
  })),
  ...fieldsWithoutElse(text, mayBeEmpty(kind)).map((field) => ({
    code: "field_may_be_empty",
    blocking: false,
    ...at,
    says: `${fieldText(field)} may be empty.`,
    why: `Write what stands there then: ${fieldText(field, "…")}.`,
  })),
  ...timesIn(text)
    .filter((time) => !bells.includes(time))
    .map((time) => ({
      code: "typed_time",
      blocking: false,
      ...at,
      says: bells.length > 0 ? `Says ${time}; the bells ring at ${bells.join(" and ")}.` : `Says ${time}, and everybody has a deadline of their own.`,
      why: `If it is the deadline, use ${fieldText("deadline")}: it is right for every reader, in their own zone.`,
    })),
];

/** The block without which an email cannot do its work. */
const missing = (content: EmailContent, kind: EmailKindName): EmailGap[] => {
  const leaves = pageLeaves(content);
  const leads = targetsOf(content).some(({ target }) => target.to === "next");
  if ((kind === "confirm" || kind === "library") && !leads)
    return [
      {
        code: "no_way_on",
        blocking: true,
        says: "No button leads to the next step.",
        why: "The link is what this email is for: add a button to the next step.",
      },
    ];
  if (kind === "receipt" && !leaves.some(({ type }) => type === "receipt"))
    return [{ code: "no_receipt", blocking: true, says: "The receipt is missing.", why: "The lines with their tax are what this email is for." }];
  return [];
};

/** What an email lacks before it can go, and what may be untrue in it, in reading order. */
export const emailGaps = (content: EmailContent, facts: EmailGapFacts): EmailGap[] => {
  const { kind, source, media } = facts;
  const leaves = pageLeaves(content);
  const gaps: EmailGap[] = [];
  if (!content.subject.trim())
    gaps.push({ code: "no_subject", blocking: true, field: "subject", says: "The subject is empty.", why: "Nobody opens an email without one." });
  gaps.push(...textGaps(content.subject, { field: "subject" }, facts), ...textGaps(content.preheader, { field: "preheader" }, facts));
  if (!leaves.some((block) => wordsOfBlock(block).some((words) => words.trim())))
    gaps.push({ code: "no_words", blocking: true, says: "The email says nothing.", why: "Add a text." });
  gaps.push(...missing(content, kind));
  for (const block of leaves) {
    const gift = block.type === "download" && kind === "welcome";
    if (!gift) gaps.push(...blockGaps(block).map((gap) => ({ code: "empty", block: block.id, ...gap })));
    if (block.type === "receipt" && kind !== "receipt")
      gaps.push({
        code: "wrong_email",
        blocking: true,
        block: block.id,
        says: "There is no order here.",
        why: "A receipt stands in the receipt’s own email.",
      });
    for (const words of wordsOfBlock(block)) gaps.push(...textGaps(words, { block: block.id }, facts));
    if (block.type === "text")
      for (const path of linksIn(block.rich).flatMap((href) => deadLink(href, facts) ?? []))
        gaps.push({
          code: "dead_link",
          blocking: true,
          block: block.id,
          field: "rich",
          says: `${path} leads to no published page.`,
          why: "Readers would find nothing there.",
        });
    if (block.type === "picture") {
      const picture = media.find(({ id }) => id === block.media);
      if (picture && picture.bytes > heavyBytes)
        gaps.push({
          code: "heavy_picture",
          blocking: false,
          block: block.id,
          field: "media",
          says: `The picture weighs ${Math.round(picture.bytes / 1000)} kB.`,
          why: "It is slow on a phone, and large mails are cut off.",
        });
    }
  }
  for (const { block, target } of targetsOf(content)) {
    const page =
      target.to === "page"
        ? source.pages.find(({ key }) => key === target.page)
        : target.to === "checkout"
          ? source.pages.find(({ kind: one }) => one === "checkout")
          : undefined;
    if (target.to === "form" || (!page && (target.to === "page" || target.to === "checkout")) || hrefOf(source, "", target) === undefined)
      gaps.push({
        code: "dead_button",
        blocking: true,
        block: block.id,
        field: "target",
        says: "The button leads to nothing.",
        why: "The page that it led to is not there any more.",
      });
    else if (page && !page.published)
      gaps.push({
        code: "unpublished",
        blocking: false,
        block: block.id,
        field: "target",
        says: "The button leads to a page that is not published.",
        why: "Publish it before the email goes.",
      });
  }
  if (content.text !== null) gaps.push(...textGaps(content.text, { field: "text" }, facts));
  return gaps;
};
