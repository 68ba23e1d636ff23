import type { APIContext, AstroGlobal } from "astro";
import { sessionDays, signOut, type SessionKind } from "./session";

type Visit = Pick<APIContext | AstroGlobal, "cookies" | "locals" | "redirect">;
const nameOf = (kind: SessionKind) => `ib_${kind}`;

/** The token of who is signed in to this surface, if anybody is. */
export const sessionToken = ({ cookies }: Pick<Visit, "cookies">, kind: SessionKind): string | undefined => cookies.get(nameOf(kind))?.value;

/** Keeps a session in the browser, out of reach of scripts, as long as it holds. */
export const keepSession = ({ cookies, locals }: Visit, kind: SessionKind, token: string): void => {
  const secure = locals.app.config.origin.startsWith("https:");
  cookies.set(nameOf(kind), token, { httpOnly: true, sameSite: "lax", path: "/", secure, maxAge: sessionDays * 86_400 });
};

/** Ends the session of this browser on one surface, and leads to where one begins. */
export const endSession = async (visit: Visit, kind: SessionKind, signInHref: string): Promise<Response> => {
  await signOut(visit.locals.em, sessionToken(visit, kind));
  visit.cookies.delete(nameOf(kind), { path: "/" });
  return visit.redirect(signInHref, 303);
};
