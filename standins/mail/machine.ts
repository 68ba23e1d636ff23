// What guards some mailboxes: a program that fetches the pictures and follows every link of an email, before anybody reads it.
import { simpleParser } from "mailparser";

/** Fetches all that an email links to and shows, as a browser would that keeps no cookies. */
export const followAll = async (raw: Buffer): Promise<void> => {
  const { html } = await simpleParser(raw);
  const addresses = [...String(html || "").matchAll(/(?:href|src)="(http[^"]+)"/g)].map(([, address]) => address!.replaceAll("&amp;", "&"));
  const headers = { "user-agent": "Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/128.0.0.0 Safari/537.36" };
  await Promise.allSettled([...new Set(addresses)].map((address) => fetch(address, { headers })));
};
