import { plainEmail, type AccountEmail } from "../../../core/emails";
import { usualLocale } from "../../../core/money";
import { standardLook } from "../../../core/pages";
import { compileEmail } from "../../../public/emails/compileEmail";
import { fillEmail } from "../../../public/emails/fillEmail";
import type { App } from "../app";
import { senderOf } from "./sender";
import { signerFor } from "./signing";

/** Sends an email about somebody's account, in the program's words. Sent again under the same `id` after a crash, it carries the same Message-ID. */
export const sendAccountEmail = async (app: App, to: string, { subject, paragraphs, link }: AccountEmail, id: string): Promise<void> => {
  const content = plainEmail({ subject, paragraphs, link: link.label });
  const compiled = await compileEmail(content, {
    look: standardLook,
    launch: "",
    vendor: app.vendor,
    media: () => undefined,
    origin: app.config.origin,
    advertising: false,
    locale: usualLocale,
  });
  const facts = { fields: {}, next: link.href, token: "" };
  const written = fillEmail(compiled, { facts, source: { slug: "", pages: [] } });
  const messageId = `<${id}@${new URL(app.config.origin).hostname}>`;
  const from = senderOf(app);
  const dkim = await signerFor(app, app.fork(), from.address);
  await app.mailer.send({ to, from, dkim, messageId, subject: written.subject, text: written.text, html: written.html }, "personal");
};
