import { createSecretKey, randomUUID, type KeyObject } from "node:crypto";
import jwt from "jsonwebtoken";

/** What a signed link may be used for. A link for one purpose is refused for another. */
export type LinkPurpose =
  | "order"
  | "restore_checkout"
  | "unsubscribe"
  | "person"
  | "calendar"
  | "preview"
  | "charge"
  | "opt_in"
  | "partner_welcome"
  | "try_out"
  | "library"
  | "invitation"
  | "new_password";

// Made once: turning a secret into a key costs more than signing with it.
const keys = new Map<string, KeyObject>();
const keyOf = (secret: string): KeyObject => {
  let key = keys.get(secret);
  if (!key) keys.set(secret, (key = createSecretKey(Buffer.from(secret))));
  return key;
};

/** A signed token (RFC 7519) for one purpose and one row, valid for `days` from `now`. No two are alike, so that one can be used up. */
export const signLink = (secret: string, purpose: LinkPurpose, id: string, now: Date, days: number): string =>
  jwt.sign({ jti: randomUUID(), sub: id, aud: purpose, exp: Math.floor(now.getTime() / 1000) + days * 86_400 }, keyOf(secret), {
    algorithm: "HS256",
    noTimestamp: true,
  });

/** The row's id, or undefined where the token is forged, for another purpose, or has expired. */
export const readLink = (secret: string, purpose: LinkPurpose, token: string | null | undefined, now: Date): string | undefined => {
  if (!token) return undefined;
  try {
    const read = jwt.verify(token, keyOf(secret), { audience: purpose, clockTimestamp: Math.floor(now.getTime() / 1000), algorithms: ["HS256"] });
    return typeof read === "string" ? undefined : read.sub;
  } catch {
    return undefined;
  }
};
