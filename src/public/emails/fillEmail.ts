import { fieldValue, receiptSentences, type EmailFacts, type ReceiptFacts } from "../../core/emails";
import { hrefOf, paletteOf, type LinkSource, type Target } from "../../core/pages";
import { escapeHtml, html, type Cut } from "../html";
import type { CompiledEmail } from "./compileEmail";
import type { EmailSetting } from "./EmailDocument";
import type { EmailHole, EmailPresence } from "./emailHoles";

/** An email as one reader gets it. */
export interface WrittenEmail {
  subject: string;
  html: string;
  text: string;
}

/** Whom an email is filled for. */
export interface EmailReader {
  facts: EmailFacts;
  source: LinkSource;
  /** Where its reader stops it with one press. */
  unsubscribe?: string;
  /** The address of a link of this very email, which tells that it was followed; without it links lead where they lead. */
  link?: (to: Target) => string;
  /** The address of the picture that tells that it was opened. */
  opened?: string;
}

const receiptHtml = (receipt: ReceiptFacts, { look, locale }: EmailSetting): string => {
  const { ink, ink2, hair } = paletteOf(look);
  const { total, notes } = receiptSentences(receipt, locale);
  const cell = `font-family:Helvetica,Arial,sans-serif;font-size:15px;line-height:1.4;padding:7px 0;border-bottom:1px solid ${hair};color:${ink}`;
  return html`<table role="presentation" width="100%" cellpadding="0" cellspacing="0" border="0"
    ><tbody>${receipt.lines.map(
      (line) =>
        html`<tr
          ><td class="e-ink e-rule" style="${cell}">${line.name}<br /><span class="e-soft" style="font-size:13px;color:${ink2}">incl. ${receipt.taxName} ${line.tax}</span></td
          ><td class="e-ink e-rule" align="right" valign="top" style="${cell}">${line.gross}</td></tr
        >`,
    )}<tr><td colspan="2" class="e-ink" style="${cell};border-bottom:0;font-weight:700">${total}</td></tr
    ></tbody></table
  >${notes.map((note) => html`<p class="e-soft" style="font-family:Helvetica,Arial,sans-serif;font-size:14px;line-height:1.45;margin:6px 0;color:${ink2}">${note}</p>`)}`
    .text;
};

const receiptText = (receipt: ReceiptFacts, { locale }: EmailSetting): string => {
  const { lines, total, notes } = receiptSentences(receipt, locale);
  return [...lines, total, ...notes].join("\n\n");
};

/** The whole address to which a button leads for a reader. */
const hrefFor = (to: Target, { facts, source, link }: EmailReader, origin: string): string => {
  if (link) return link(to);
  if (to.to === "next") return facts.next;
  if (to.to === "library") return facts.library ?? `${origin}/library`;
  const path = hrefOf(source, "", to);
  if (path === undefined) return origin;
  return to.to === "outside" ? path : `${origin}${path}?k=${facts.token}`;
};

const firstLink = (compiled: CompiledEmail): Target =>
  compiled.html.holes.find((hole): hole is Extract<EmailHole, { is: "href" }> => hole.is === "href" && hole.on === "button")?.to ?? { to: "next" };

const has = ({ facts, opened }: EmailReader, what: EmailPresence): boolean => (what === "opened" ? opened : facts[what]) !== undefined;

/** Writes an email for one of its readers. */
export const fillEmail = (compiled: CompiledEmail, reader: EmailReader): WrittenEmail => {
  const { facts } = reader;
  const { setting } = compiled;
  const values = { ...facts.fields, vendor: setting.vendor.name, link: hrefFor(firstLink(compiled), reader, setting.origin) };
  const plain = (hole: EmailHole): string => {
    switch (hole.is) {
      case "field":
        return fieldValue(hole, values);
      case "href":
        return hrefFor(hole.to, reader, setting.origin);
      case "countdown":
        return facts.countdown?.[hole.part] ?? "";
      case "gift":
        return facts.gift?.[hole.part] ?? "";
      case "partner":
        return facts.partner?.[hole.part] ?? "";
      case "opened":
        return reader.opened ?? "";
      case "unsubscribe":
        return reader.unsubscribe ?? "";
      case "receipt":
      case "begin":
      case "end":
        return "";
    }
  };
  const write = ({ parts, holes }: Cut<EmailHole>, receipt: (of: ReceiptFacts) => string, escape: (text: string) => string): string => {
    let shown = true;
    let out = parts[0] ?? "";
    holes.forEach((hole, index) => {
      if (hole.is === "begin") shown = has(reader, hole.has);
      if (hole.is === "end") shown = true;
      if (!shown) return;
      out += hole.is === "receipt" ? (facts.receipt ? receipt(facts.receipt) : "") : escape(plain(hole));
      out += parts[index + 1] ?? "";
    });
    return out;
  };
  return {
    // A header is one line, whatever somebody typed as their name.
    subject: write(
      compiled.subject,
      () => "",
      (text) => text.replace(/\s+/g, " "),
    ).trim(),
    html: write(compiled.html, (receipt) => receiptHtml(receipt, setting), escapeHtml),
    text: write(
      compiled.text,
      (receipt) => receiptText(receipt, setting),
      (text) => text,
    )
      .replace(/\n{3,}/g, "\n\n")
      .trim(),
  };
};
