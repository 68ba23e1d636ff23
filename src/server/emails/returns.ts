import { createHmac, timingSafeEqual } from "node:crypto";
import { softBounces, type ReturnedMail } from "../../core/emails";
import { listenForReturns, type ReturnsListener } from "../../outside/returnedMail";
import { noteBounce, noteComplaint } from "../../store/emails/returns";
import type { App } from "../platform";

type Configured = Pick<App, "config">;

/** The end of a return address, which only this installation can make: nobody else stops mail to somebody by a report. */
const sealOf = ({ config }: Configured, id: string): string =>
  createHmac("sha256", config.INKBELL_SECRET).update(`return ${id}`).digest("hex").slice(0, 16);

/** The address that an email comes back to where it cannot be delivered; undefined where returned mail goes to the sender. */
export const returnAddressOf = (app: Configured, emailId: string): string | undefined => {
  const { INKBELL_RETURN_DOMAIN: domain } = app.config;
  return domain && `r.${emailId.replaceAll("-", "")}.${sealOf(app, emailId)}@${domain}`;
};

/** Which email an address is the return address of; undefined where it is none of ours, or was made up. */
export const emailOfReturn = (app: Configured, address: string): string | undefined => {
  const [, hex, seal, domain] = /^r\.([\da-f]{32})\.([\da-f]{16})@(.+)$/i.exec(address) ?? [];
  if (!hex || !seal || domain?.toLowerCase() !== app.config.INKBELL_RETURN_DOMAIN.toLowerCase()) return undefined;
  const id = hex.toLowerCase().replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, "$1-$2-$3-$4-$5");
  return timingSafeEqual(Buffer.from(seal.toLowerCase()), Buffer.from(sealOf(app, id))) ? id : undefined;
};

/**
 * Writes down that an email came back. A hard bounce, many soft ones and a complaint each end mail to many to that address; a complaint unsubscribes as
 * well. The same report twice is one.
 */
export const takeReturned = async (app: App, emailId: string, what: ReturnedMail): Promise<void> => {
  const now = app.clock.now();
  await app.fork().transactional(async (tx) => {
    if (what.is === "complaint") await noteComplaint(tx, emailId, what.says, now);
    else await noteBounce(tx, emailId, what, softBounces, now);
  });
};

/** Listens for mail that comes back; undefined where no domain is set for it. */
export const returnsListener = (app: App): ReturnsListener | undefined => {
  const { INKBELL_RETURN_DOMAIN: domain, INKBELL_RETURN_PORT: port, INKBELL_RETURN_HOST: host } = app.config;
  if (!domain || port === undefined) return undefined;
  return listenForReturns(
    { host, port },
    (address) => emailOfReturn(app, address) !== undefined,
    ({ to, what }) => takeReturned(app, emailOfReturn(app, to)!, what),
    app.log,
  );
};
