import { createCipheriv, createDecipheriv, generateKeyPair, hkdfSync, randomBytes } from "node:crypto";
import { promisify } from "node:util";
import type { DkimSigner } from "../../../outside/mailer";
import { DkimKey } from "../../../store/tables";
import type { EntityManager } from "../../../store/orm";
import type { App } from "../app";

type Configured = Pick<App, "config">;

const cipher = "aes-256-gcm";
const keyOf = ({ config }: Configured): Buffer => Buffer.from(hkdfSync("sha256", config.INKBELL_SECRET, "", "dkim private keys", 32));

/** A private key as the database keeps it: of no use to who reads it there without the installation's secret. */
const seal = (app: Configured, text: string): string => {
  const nonce = randomBytes(12);
  const sealing = createCipheriv(cipher, keyOf(app), nonce);
  const sealed = Buffer.concat([sealing.update(text, "utf8"), sealing.final()]);
  return [nonce, sealing.getAuthTag(), sealed].map((part) => part.toString("base64")).join(".");
};

/** Throws where it was sealed with another secret, or changed. */
const unseal = (app: Configured, sealed: string): string => {
  const [nonce, tag, text] = sealed.split(".").map((part) => Buffer.from(part, "base64"));
  if (!nonce || !tag || !text) throw new Error("not a sealed text");
  const opening = createDecipheriv(cipher, keyOf(app), nonce).setAuthTag(tag);
  return Buffer.concat([opening.update(text), opening.final()]).toString("utf8");
};

const generate = promisify(generateKeyPair);

/** A new key that signs mail: RSA of 2,048 bits, which every receiver can check (RFC 8301 §3.2). */
export const makeDkimKey = async (app: Configured): Promise<{ privateKey: string; publicKey: string }> => {
  const { privateKey, publicKey } = await generate("rsa", {
    modulusLength: 2048,
    publicKeyEncoding: { type: "spki", format: "der" },
    privateKeyEncoding: { type: "pkcs8", format: "pem" },
  });
  return { privateKey: seal(app, privateKey), publicKey: publicKey.toString("base64") };
};

const domainOf = (address: string): string => address.slice(address.lastIndexOf("@") + 1).toLowerCase();

/** By what mail from an address is signed; undefined where its domain has no key in use, or none that this installation can open. */
export const signerFor = async (app: Pick<App, "config" | "log">, em: EntityManager, from: string): Promise<DkimSigner | undefined> => {
  const key = await em.findOne(DkimKey, { domain: domainOf(from), usedSince: { $ne: null }, endedAt: null });
  if (!key) return undefined;
  try {
    return { domainName: key.domain, keySelector: key.selector, privateKey: unseal(app, key.privateKey) };
  } catch {
    app.log.error({ selector: key.selector }, "the key that signs emails cannot be opened: it was made under another secret. They go unsigned");
    return undefined;
  }
};
