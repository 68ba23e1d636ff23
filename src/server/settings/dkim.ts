import { randomBytes } from "node:crypto";
import type { AnswerOf, BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/settings";
import { DkimKey, Launch, type DeskUser } from "../../store/tables";
import { lockName } from "../../store/platform/locks";
import type { EntityManager } from "../../store/orm";
import { makeDkimKey, mustBeAllowed, required, senderOf, type App } from "../platform";

export type Signing = AnswerOf<typeof contract.changeSigning>;

const domainOf = (address: string): string => address.split("@").at(-1)!.toLowerCase();

/** The domains that emails come from, each with the launches that send from it: the vendor's own first, with none. */
const sendingDomains = async (app: App, em: EntityManager): Promise<Map<string, string[]>> => {
  const domains = new Map<string, string[]>([[domainOf(senderOf(app).address), []]]);
  for (const { name, settings } of await em.find(Launch, { archivedAt: null }, { orderBy: { name: 1 }, fields: ["name", "settings"] })) {
    if (!settings.sender) continue;
    const domain = domainOf(settings.sender.email);
    domains.set(domain, [...(domains.get(domain) ?? []), name]);
  }
  return domains;
};

/** The domains that emails come from, with the keys of each, the newest first, and the DNS record that makes each key known (RFC 6376 §3.6). */
export const signingOf = async (app: App, em: EntityManager): Promise<Signing> => {
  const domains = await sendingDomains(app, em);
  const keys = await em.find(DkimKey, { domain: { $in: [...domains.keys()] }, endedAt: null }, { orderBy: { madeAt: -1 } });
  return {
    domains: [...domains].map(([domain, launches]) => ({
      domain,
      launches,
      keys: keys
        .filter((key) => key.domain === domain)
        .map(({ selector, publicKey, madeAt, usedSince }) => ({
          selector,
          madeAt,
          usedSince: usedSince ?? null,
          record: { name: `${selector}._domainkey.${domain}`, value: `v=DKIM1; k=rsa; p=${publicKey}` },
        })),
    })),
  };
};

/** Makes a key for a domain, signs by one from now on (the one before of its domain ends), or ends one. */
export const changeSigning = async (
  app: App,
  em: EntityManager,
  user: DeskUser,
  request: BodyOf<typeof contract.changeSigning>,
  now: Date,
): Promise<Signing> => {
  mustBeAllowed(user, "vendor.edit");
  // Nobody signs for a domain that nothing is sent from.
  if (request.do === "make") required((await sendingDomains(app, em)).has(request.domain) ? request.domain : undefined, "signing_domain");
  const made = request.do === "make" ? await makeDkimKey(app) : undefined;
  await em.transactional(async (tx) => {
    await lockName(tx, "dkim");
    if (request.do === "make") {
      const { domain } = request;
      // One that nobody has used yet is replaced: its record stands nowhere.
      await tx.nativeUpdate(DkimKey, { domain, usedSince: null, endedAt: null }, { endedAt: now });
      const selector = `bell${now.toISOString().slice(0, 10).replaceAll("-", "")}${randomBytes(2).toString("hex")}`;
      tx.persist(tx.create(DkimKey, { selector, domain, ...made!, madeAt: now }));
      return;
    }
    const key = required(await tx.findOne(DkimKey, { selector: request.selector, endedAt: null }), "signing_key");
    if (request.do === "end") key.endedAt = now;
    else if (!key.usedSince) {
      await tx.nativeUpdate(DkimKey, { domain: key.domain, usedSince: { $ne: null }, endedAt: null }, { endedAt: now });
      key.usedSince = now;
    }
  });
  return signingOf(app, app.fork());
};
