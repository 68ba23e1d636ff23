import { createHash } from "node:crypto";
import { standardLook } from "../../../core/pages";
import { html } from "../../../public/html";
import { fontsOf, styleOf } from "../../../public/themes";
import type { App } from "../app";
import { cookie, linkCookie, visitorCookie, type PublicAnswer } from "./publicRequest";

/** SHA-256, base64: as policies name the style they let through. */
export const sha256 = (text: string): string => createHash("sha256").update(text).digest("base64");

const headersOf = new Map<string, Record<string, string>>();

/** The headers of a public page whose style has this hash. */
export const publicHeaders = (app: App, styleHash: string): Record<string, string> => {
  const known = headersOf.get(styleHash);
  if (known) return known;
  const origins = [...new Set(app.cards.fieldUrls.map((url) => new URL(url).origin))].join(" ");
  const headers = {
    "content-type": "text/html; charset=utf-8",
    // Each answer depends on the person and the instant.
    "cache-control": "private, no-store",
    "content-security-policy": `default-src 'none'; script-src 'self'; style-src 'sha256-${styleHash}'; font-src 'self'; img-src 'self'; media-src 'self' https:; connect-src 'self'; frame-src 'self' ${origins}; form-action 'self' ${origins}; base-uri 'none'; frame-ancestors 'self'`,
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
  };
  // Looks are few; previews of many make no difference to a crowd.
  if (headersOf.size > 500) headersOf.clear();
  headersOf.set(styleHash, headers);
  return headers;
};

const plainStyle = styleOf(standardLook);
const plainFonts = html`${fontsOf(standardLook)}`.text;
const plainHash = sha256(plainStyle);

/** Goes on to another address. */
export const redirect = (app: App, location: string, visitorId?: string, link?: string): PublicAnswer => ({
  status: 303,
  body: "",
  headers: { ...publicHeaders(app, plainHash), location },
  cookies: [...(visitorId ? [cookie(app, visitorCookie, visitorId)] : []), ...(link ? [cookie(app, linkCookie, link)] : [])],
});

/** A page of two sentences, where there is none of the vendor's. */
export const messagePage = (app: App, status: number, headline: string, text: string): PublicAnswer => ({
  status,
  headers: { ...publicHeaders(app, plainHash), "x-robots-tag": "noindex" },
  body: `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${headline}</title>${plainFonts}<style>${plainStyle}</style></head><body><main class="sec p3"><div class="in"><h1>${headline}</h1><p class="z-large s2">${text}</p></div></main></body></html>`,
});
