import type { SenderSetting } from "../../../core/launch";
import type { OutgoingMail } from "../../../outside/mailer";
import type { App } from "../app";

/** Whose name and address emails carry: the launch's, where it has its own; the vendor's; or the site's own host where none was given. */
export const senderOf = ({ vendor, config }: Pick<App, "vendor" | "config">, ofLaunch?: SenderSetting | null): OutgoingMail["from"] => ({
  name: ofLaunch?.name || vendor.sender.name || vendor.name,
  address: ofLaunch?.email || vendor.sender.email || `post@${new URL(config.origin).hostname}`,
});
