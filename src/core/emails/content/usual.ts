import { usualEmailWords } from "../../launch";
import { usualLocale, type Locale } from "../../money";
import { richOf, type LeafBlock } from "../../pages";
import { emailWords } from "../../words";
import type { EmailKindName, HungKind } from "../kinds";
import type { EmailContent } from "./emailContent";
import { fieldText } from "./mergeFields";

const every = { hide: [], space: "normal" as const };

/** Blocks in one section, with ids that say what they are. */
const contentOf = (subject: string, blocks: (LeafBlock | undefined)[]): EmailContent => ({
  subject,
  preheader: "",
  sections: [{ id: "body", ground: "paper", width: "normal", space: "normal", blocks: blocks.filter((block): block is LeafBlock => !!block) }],
  text: null,
});
const words = (paragraphs: readonly string[]): LeafBlock => ({
  ...every,
  id: "words",
  type: "text",
  rich: richOf(paragraphs.join("\n\n")),
  size: "normal",
});
const button = (label: string): LeafBlock => ({ ...every, id: "next", type: "button", label, target: { to: "next" }, look: "main", note: "" });
const countdown: LeafBlock = { ...every, id: "countdown", type: "countdown", form: "card" };

/** Words with a button that leads on, as the program writes them where the vendor has written none. */
export const plainEmail = (v: { subject: string; paragraphs: readonly string[]; link?: string; countdown?: boolean }): EmailContent =>
  contentOf(v.subject, [words(v.paragraphs), v.countdown ? countdown : undefined, v.link ? button(v.link) : undefined]);

const launch = fieldText("launch");
const greeted = (locale: Locale): string => emailWords(locale).hello(fieldText("first name", emailWords(locale).reader));

/** An email on a bell as it is written where only its subject and text are known. */
export const bellEmail = (subject: string, text: string, locale: Locale = usualLocale): EmailContent =>
  plainEmail({ subject, paragraphs: [greeted(locale), ...text.split(/\n{2,}/)], link: emailWords(locale).bell.link, countdown: true });

/** An email to those who were told a closing that was moved since, as it begins. */
export const movedClosingEmail = (locale: Locale = usualLocale): EmailContent => {
  const { moved } = emailWords(locale);
  return bellEmail(moved.subject(launch), moved.text(launch, fieldText("deadline")), locale);
};

const byKind: Record<Exclude<EmailKindName, HungKind>, (locale: Locale) => EmailContent> = {
  confirm: (locale) => {
    const { hello, confirm } = emailWords(locale);
    return plainEmail({ subject: confirm.subject(launch), paragraphs: [hello(""), confirm.why(launch), confirm.notYou], link: confirm.link });
  },
  welcome: (locale) => {
    const { welcome } = emailWords(locale);
    return contentOf(welcome.subject(launch), [
      words([greeted(locale), fieldText("what comes next")]),
      { ...every, id: "gift", type: "download", media: null, label: welcome.gift },
      countdown,
      button(welcome.link(launch)),
    ]);
  },
  receipt: (locale) => {
    const { receipt } = emailWords(locale);
    return contentOf(receipt.subject(fieldText("order number")), [
      words([greeted(locale), receipt.thanks]),
      { ...every, id: "receipt", type: "receipt" },
      button(receipt.link),
      { ...every, id: "library", type: "button", label: receipt.library, target: { to: "library" }, look: "plain", note: "" },
    ]);
  },
  recovery: (locale) => {
    const { recovery } = emailWords(locale);
    const paragraphs = [greeted(locale), recovery.what(fieldText("product")), recovery.closes(fieldText("deadline"))];
    return plainEmail({ subject: recovery.subject(fieldText("product")), paragraphs, link: recovery.link });
  },
  library: (locale) => {
    const { library } = emailWords(locale);
    return plainEmail({ subject: library.subject, paragraphs: [greeted(locale), library.what, library.notYou], link: library.link });
  },
};

/** The words of an email to one person, where the vendor has not written their own. */
export const usualEmail = (kind: Exclude<EmailKindName, HungKind>, locale: Locale = usualLocale): EmailContent => byKind[kind](locale);

/** What the emails say that a launch begins with, by their ids. */
export const usualBellEmails = (ids: readonly string[]): Record<string, EmailContent> =>
  Object.fromEntries(
    ids.map((id) => {
      const { subject, text } = usualEmailWords(id, launch);
      return [id, bellEmail(subject, text)];
    }),
  );
