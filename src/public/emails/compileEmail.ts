import { render, toPlainText } from "@react-email/render";
import { createElement } from "react";
import type { EmailContent } from "../../core/emails";
import { emailWords } from "../../core/words";
import { HoleBook, Html, type Cut } from "../html";
import { EmailDocument, type EmailSetting } from "./EmailDocument";
import { withFields, type EmailHole } from "./emailHoles";

/** An email ready to be filled for each of its readers: text between holes. */
export interface CompiledEmail {
  subject: Cut<EmailHole>;
  html: Cut<EmailHole>;
  text: Cut<EmailHole>;
  setting: EmailSetting;
}

/** The foot of a plain-text part that was written by hand: who sends it, and how it is stopped. */
const footText = ({ advertising, vendor, locale }: EmailSetting, book: HoleBook<EmailHole>): string => {
  const { footer, unsubscribe } = emailWords(locale);
  const address = [vendor.name, ...vendor.postalAddress.split("\n")].map((line) => line.trim()).filter(Boolean);
  return [...(advertising ? [`${footer(vendor.name)} ${unsubscribe}: ${book.mark({ is: "unsubscribe" }).text}`] : []), address.join("\n")].join(
    "\n\n",
  );
};

/** Lines as long as they are, headings as they were typed. */
const asTyped = { wordwrap: false as const, selectors: ["h1", "h2", "h3"].map((selector) => ({ selector, options: { uppercase: false } })) };

/** Makes an email once for all its readers, whatever their number. */
export const compileEmail = async (content: EmailContent, setting: EmailSetting): Promise<CompiledEmail> => {
  const book = new HoleBook<EmailHole>();
  // What React leaves to find its parts again is of no use in a mail; what Outlook reads is kept.
  const written = (await render(createElement(EmailDocument, { ...setting, content, book }))).replace(/<!--(?!\[if)[\s\S]*?-->/g, "");
  const text = content.text === null ? toPlainText(written, asTyped) : `${withFields(content.text, book)}\n\n${footText(setting, book)}`;
  return {
    subject: book.cut(new Html(withFields(content.subject, book))),
    html: book.cut(new Html(written)),
    text: book.cut(new Html(text)),
    setting,
  };
};
