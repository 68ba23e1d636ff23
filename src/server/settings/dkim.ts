import { randomBytes } from "node:crypto";
import type { AnswerOf, BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/settings";
import { DkimKey, type DeskUser } from "../../store/tables";
import { lockName } from "../../store/platform/locks";
import type { EntityManager } from "../../store/orm";
import { makeDkimKey, mustBeAllowed, required, senderOf, type App } from "../platform";

export type Signing = AnswerOf<typeof contract.changeSigning>;

const senderDomain = (app: App): string => senderOf(app).address.split("@").at(-1)!.toLowerCase();

/** The keys of the sender's domain, the newest first, each with the DNS record that makes it known (RFC 6376 §3.6). */
export const signingOf = async (app: App, em: EntityManager): Promise<Signing> => {
  const domain = senderDomain(app);
  const keys = await em.find(DkimKey, { domain, endedAt: null }, { orderBy: { madeAt: -1 } });
  return {
    domain,
    keys: keys.map(({ selector, publicKey, madeAt, usedSince }) => ({
      selector,
      madeAt,
      usedSince: usedSince ?? null,
      record: { name: `${selector}._domainkey.${domain}`, value: `v=DKIM1; k=rsa; p=${publicKey}` },
    })),
  };
};

/** Makes a key, signs by one from now on (the one before ends), or ends one. */
export const changeSigning = async (
  app: App,
  em: EntityManager,
  user: DeskUser,
  request: BodyOf<typeof contract.changeSigning>,
  now: Date,
): Promise<Signing> => {
  mustBeAllowed(user, "vendor.edit");
  const domain = senderDomain(app);
  const made = request.do === "make" ? await makeDkimKey(app) : undefined;
  await em.transactional(async (tx) => {
    await lockName(tx, "dkim");
    if (request.do === "make") {
      // One that nobody has used yet is replaced: its record stands nowhere.
      await tx.nativeUpdate(DkimKey, { domain, usedSince: null, endedAt: null }, { endedAt: now });
      const selector = `bell${now.toISOString().slice(0, 10).replaceAll("-", "")}${randomBytes(2).toString("hex")}`;
      tx.persist(tx.create(DkimKey, { selector, domain, ...made!, madeAt: now }));
      return;
    }
    const key = required(await tx.findOne(DkimKey, { selector: request.selector, domain, endedAt: null }), "signing_key");
    if (request.do === "end") key.endedAt = now;
    else if (!key.usedSince) {
      await tx.nativeUpdate(DkimKey, { domain, usedSince: { $ne: null }, endedAt: null }, { endedAt: now });
      key.usedSince = now;
    }
  });
  return signingOf(app, app.fork());
};
