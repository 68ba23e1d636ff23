import type { AstroGlobal } from "astro";
import { readForm } from "../http/readForm";
import { signIn, type SessionKind } from "./session";
import { shownRefusal } from "../http/failure";
import { keepSession } from "./sessionCookie";

export interface SignInState {
  email: string;
  wrong?: string;
}

/** Where a sign-in leads back to. Only addresses of this site's surfaces: the way back must not lead elsewhere. */
export const wayBack = (url: URL, home: string): string => {
  const to = url.searchParams.get("to") ?? home;
  return /^\/(desk|partner|library|l)(\/[\w\-/.?=&%:]*)?$/.test(to) ? to : home;
};

/** Takes a posted sign-in form: answers the redirect of who is in, or what the form shows. */
export const takeSignIn = async (
  visit: AstroGlobal,
  kind: SessionKind,
  home: string,
  posted?: Record<string, string>,
): Promise<Response | SignInState> => {
  const { locals, request, url, clientAddress, redirect, response } = visit;
  if (request.method !== "POST") return { email: "" };
  const { app, em } = locals;
  const { email = "", password = "" } = posted ?? (await readForm(request));
  try {
    const token = await signIn(app, em, kind, email, password, clientAddress, request.headers.get("user-agent") ?? "");
    keepSession(visit, kind, token);
    return redirect(wayBack(url, home), 303);
  } catch (error) {
    const { status, text } = shownRefusal(error);
    response.status = status;
    return { email, wrong: text };
  }
};
