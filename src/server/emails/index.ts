/** Emails: each kind composed at the moment at which it goes, and handed over exactly once. */

export { runSequences } from "./runSequences";
export { atOnce, deliverEmails } from "./deliver";
export { type EmailPreview, type PreviewFacts, previewEmailTo, previewFacts, sendTestEmail } from "./previewEmail";
export { bellTimes, type EmailDraft, emailDraft, publishEmail, saveEmail } from "./draftEmail";
export { clickSeen, emailOpened, followLink, readEmailLink } from "./followLink";
export {
  addOneOff,
  holdOneOff,
  listOneOffs,
  type OneOffView,
  queueOneOff,
  recipientsOf,
  removeOneOff,
  saveOneOff,
  scheduleOneOff,
} from "./oneOff/oneOff";
export { movedClosing } from "./oneOff/movedClosing";
export { returnsListener } from "./returns";
export { addVariant, removeVariant, weighVariant } from "./variants";
export { dropEmailTemplate, keepEmailTemplate, listEmailTemplates } from "./emailTemplates";
