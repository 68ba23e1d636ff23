import { html } from "../../../public/html";
import type { App } from "../app";
import { failureJson, type Failure } from "./failure";
import { messagePage } from "./policy";

/** A form that was sent and not taken: where it went, and what it held. */
export interface SentForm {
  action: string;
  values: Record<string, string>;
}

/** What was typed, ready to be sent again by one press: the page behind may be gone. */
const againForm = ({ action, values }: SentForm): string =>
  html`<p class="s2">What you typed is kept on this page.</p><form method="post" action="${action}">${Object.entries(values).map(
    ([name, value]) => html`<input type="hidden" name="${name}" value="${value}" />`,
  )}<p class="s1"><button class="go">Send it again</button></p></form>`.text;

/** A failure as a page of two sentences, with what was sent if that may succeed another time; or as JSON for who asks at an endpoint. */
export const answerFailure = (app: App, failure: Failure, pathname: string, sent?: SentForm): Response => {
  if (pathname.startsWith("/api/")) return failureJson(failure);
  const { status, body, headers } = messagePage(app, failure.status, failure.headline, failure.text);
  const later: Record<string, string> = failure.retryAfterSeconds ? { "retry-after": String(failure.retryAfterSeconds) } : {};
  const whole = failure.again && sent ? body.replace("</div></main>", () => `${againForm(sent)}</div></main>`) : body;
  return new Response(whole, { status, headers: { ...headers, ...later } });
};
