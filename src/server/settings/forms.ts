import type { AstroGlobal } from "astro";
import type { z } from "zod";
import { keepSession, readForm, shownRefusal, type SessionKind, wrongField } from "../platform";
import { askForNewPassword, chooseNewPassword } from "./passwords";

const agentOf = ({ request }: Pick<AstroGlobal, "request">): string => request.headers.get("user-agent") ?? "";

/** What a page says of a form that was refused: in a sentence, and at its fields. */
export interface Refused {
  wrong?: string;
  fields: Record<string, string>;
  /** The same for a form that has one place for it. */
  line?: string;
}

/** Runs a posted form; a refusal becomes what the page says, with its status. */
const taking = async <T>(visit: AstroGlobal, run: () => Promise<T>): Promise<{ done: T } | Refused> => {
  try {
    return { done: await run() };
  } catch (error) {
    const { status, text, fields, line } = shownRefusal(error);
    visit.response.status = status;
    return { wrong: text, fields, line };
  }
};

/** Takes the form that asks for a link to a new password. */
export const takeForgotten = async (visit: AstroGlobal, kind: SessionKind): Promise<{ email: string; sent: boolean; wrong?: string }> => {
  const { locals, request, clientAddress } = visit;
  if (request.method !== "POST") return { email: "", sent: false };
  const { email = "" } = await readForm(request);
  const taken = await taking(visit, async () => {
    if (!/^\S+@\S+\.\S+$/.test(email.trim())) throw wrongField("nothing_saved", "email", { code: "not_an_email" });
    await askForNewPassword(locals.app, locals.em, kind, email, clientAddress);
  });
  return "done" in taken ? { email, sent: true } : { email, sent: false, wrong: taken.line };
};

/** Takes the form that sets a new password by a link: answers the redirect of who is in, or what the form shows. */
export const takeNewPassword = async (visit: AstroGlobal, kind: SessionKind, home: string): Promise<Response | { wrong?: string }> => {
  const { locals, request, url } = visit;
  if (request.method !== "POST") return {};
  const { password = "" } = await readForm(request);
  const taken = await taking(visit, () => chooseNewPassword(locals.app, kind, url.searchParams.get("t"), password, agentOf(visit)));
  if (!("done" in taken)) return { wrong: taken.line };
  keepSession(visit, kind, taken.done);
  return visit.redirect(home, 303);
};

/**
 * Takes a form by which somebody comes to the desk for the first time; `run` answers the token of their session. Answers
 * their redirect, or the values that the form shows again with what is wrong at each.
 */
export const takeEntry = async <T extends object>(
  visit: AstroGlobal,
  schema: z.ZodType<T>,
  to: string,
  run: (given: T, agent: string) => Promise<string>,
): Promise<Response | (Refused & { values: Record<string, string> })> => {
  if (visit.request.method !== "POST") return { values: {}, fields: {} };
  const { password, ...values } = await readForm(visit.request);
  const taken = await taking(visit, () => run(schema.parse({ ...values, password }), agentOf(visit)));
  if (!("done" in taken)) return { ...taken, values };
  keepSession(visit, "desk", taken.done);
  return visit.redirect(to, 303);
};
