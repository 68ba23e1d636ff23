/** Emails: each kind composed at the moment at which it goes, and handed over exactly once. */

export { runSequences } from "./runSequences";
export { deliverEmails } from "./deliver";
export { type EmailPreview, type PreviewFacts, previewEmailTo, previewFacts, sendTestEmail } from "./previewEmail";
export { bellTimes, type EmailDraft, emailDraft, publishEmail, saveEmail } from "./draftEmail";
export { returnsListener } from "./returns";
