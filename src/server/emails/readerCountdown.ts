import type { EmailWords } from "../../core/emails";
import { view, type Viewer } from "../../core/launch";
import { countdownSentence } from "../../public/countdown";
import type { Draft } from "./emailKind";

/** The countdown of a reader as an email shows it: the very instant that the pages show them. */
export const readerCountdown = (
  { app, context: { launch, plan }, token, now }: Pick<Draft<"bell">, "app" | "context" | "token" | "now">,
  reader: Viewer,
): EmailWords["countdown"] => {
  const { countdown } = view(plan, reader, now);
  return countdown && { src: `${app.config.origin}/c/${launch.slug}.png?k=${token}`, says: countdownSentence(countdown, launch.zone) };
};
