import { z } from "zod";
import { eventData, type Device } from "../../../core/events";
import type { Errors, Values } from "../../../public/facts";
import type { App } from "../app";
import { visitorAgent } from "./visitorAgent";

export interface PublicRequest {
  slug: string;
  path: string;
  query: URLSearchParams;
  /** From the first-party cookie; undefined on a first visit. */
  visitorId?: string;
  /** The person's link that an earlier visit left in this browser. */
  keptLink?: string;
  /** The link by which somebody of the desk tries the launch out. */
  tryLink?: string;
  /** The session of a buyer who is signed in to their library. */
  buyerToken?: string;
  /** Only looked at (a HEAD request, a browser that fetches ahead, a program): counted nowhere, starts and stops no clock. */
  passive?: boolean;
  device?: Device;
  acceptLanguage?: string;
  /** What this browser did on its first visit, which counts now that it has come again. */
  firstVisit?: FirstVisit;
  /** The click in an email by which it came. */
  emailClick?: string;
  /** The entity tags of what the browser has (`If-None-Match`). */
  ifNoneMatch?: string;
  /** A form that came back: what was typed, and what is wrong with it. */
  form?: { block?: string; values: Values; errors: Errors; message?: string; status?: number };
}

export interface PublicAnswer {
  status: number;
  body: string;
  /** The same, where it is encoded already. */
  bytes?: Buffer;
  headers: Record<string, string>;
  cookies?: string[];
}

export const visitorCookie = "ib_v";
export const linkCookie = "ib_k";
/** Held while a launch is tried out; it stands for that launch alone. */
export const tryCookie = "ib_t";
const isVisitorId = (text: string | undefined): text is string =>
  /^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/.test(text ?? "");

/** Whether a page is only looked at, and on what, by the method and the headers of a request. */
export const lookOf = (
  method: string | undefined,
  purpose: string | null | undefined,
  userAgent: string | null | undefined,
): Pick<PublicRequest, "passive" | "device"> => {
  const { program, device } = visitorAgent(userAgent);
  return { passive: program || method === "HEAD" || (purpose ?? "").includes("prefetch"), device };
};

/** The visitor's id in a `Cookie` header, if it is one. */
export const visitorOf = (cookies: string | null | undefined): string | undefined => {
  const value = /(?:^|;\s*)ib_v=([^;]+)/.exec(cookies ?? "")?.[1];
  return isVisitorId(value) ? value : undefined;
};

/** The person's link kept in a `Cookie` header. Whether it is a true one is found out when it is read. */
export const keptLinkOf = (cookies: string | null | undefined): string | undefined => /(?:^|;\s*)ib_k=([\w.-]+)/.exec(cookies ?? "")?.[1];

/** The link to try a launch out that a `Cookie` header holds. */
export const tryLinkOf = (cookies: string | null | undefined): string | undefined => /(?:^|;\s*)ib_t=([\w.-]+)/.exec(cookies ?? "")?.[1];

/**
 * What a browser did on its first visit, before it was known whether it keeps cookies. It counts when the browser comes
 * again with it: programs that keep none are no visitors.
 */
const firstVisit = z.object({
  launch: z.uuid(),
  view: z.object({ kind: z.enum(["visited", "saw_sales"]), page: z.string().max(120), data: eventData.visited }).optional(),
  click: z
    .object({
      code: z.string().max(80),
      page: z.string().max(120),
      source: z.string().max(80).optional(),
      subIds: z.array(z.string().max(80)).max(5),
    })
    .optional(),
});
export type FirstVisit = z.infer<typeof firstVisit>;
export const firstVisitCookie = "ib_f";

/** The click in an email by which a browser came, until its page is seen. */
export const clickCookie = "ib_e";
/** The click that a `Cookie` header holds. */
export const emailClickOf = (cookies: string | null | undefined): string | undefined =>
  /(?:^|;\s*)ib_e=([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})(?:;|$)/.exec(cookies ?? "")?.[1];

/** The cookie that holds a first visit; without one it takes it away. */
export const firstVisitHeader = (app: App, visit?: FirstVisit): string =>
  `${firstVisitCookie}=${visit ? Buffer.from(JSON.stringify(visit)).toString("base64url") : ""}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${visit ? 600 : 0}${app.config.origin.startsWith("https:") ? "; Secure" : ""}`;

/** The first visit that a `Cookie` header holds, if it is one. */
export const firstVisitOf = (cookies: string | null | undefined): FirstVisit | undefined => {
  const value = /(?:^|;\s*)ib_f=([\w-]{1,2000})/.exec(cookies ?? "")?.[1];
  if (!value) return undefined;
  try {
    return firstVisit.safeParse(JSON.parse(Buffer.from(value, "base64url").toString("utf8"))).data;
  } catch {
    return undefined;
  }
};

/** The session of a buyer in a `Cookie` header. */
export const buyerTokenOf = (cookies: string | null | undefined): string | undefined =>
  /(?:^|;\s*)ib_buyer=([\w-]{20,64})(?:;|$)/.exec(cookies ?? "")?.[1];

/** The region a browser says its language is from, as a first guess of the country until the checkout knows it. */
export const guessCountry = (acceptLanguage: string | undefined): string | undefined => /^[a-z]{2,3}-([A-Z]{2})\b/.exec(acceptLanguage ?? "")?.[1];

/** A first-party cookie that no script reads, kept for so many seconds. An empty value takes it away. */
export const cookie = (app: App, name: string, value: string, seconds = 31_536_000): string =>
  `${name}=${value}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${value ? seconds : 0}${app.config.origin.startsWith("https:") ? "; Secure" : ""}`;
