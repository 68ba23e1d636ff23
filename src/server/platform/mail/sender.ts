import type { OutgoingMail } from "../../../outside/mailer";
import type { App } from "../app";

/** Whose name and address emails carry: the vendor's, or the site's own host where none was given. */
export const senderOf = ({ vendor, config }: Pick<App, "vendor" | "config">): OutgoingMail["from"] => ({
  name: vendor.sender.name || vendor.name,
  address: vendor.sender.email || `post@${new URL(config.origin).hostname}`,
});
