/** Emails: each kind composed at the moment at which it goes, and handed over exactly once. */

export { deliverEmails } from "./deliver";
export { type EmailPreview, previewEmailTo, sendTestEmail } from "./previewEmail";
