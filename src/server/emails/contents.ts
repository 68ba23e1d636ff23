import { emailVariantOf, isHung, usualEmail, variantKey, type EmailContent, type EmailKindName, type EmailVariant } from "../../core/emails";
import { usualLocale } from "../../core/money";
import { mediaOf, withoutVariant } from "../../core/pages";
import { compileEmail, type CompiledEmail } from "../../public/emails/compileEmail";
import type { EntityManager } from "../../store/orm";
import type { LaunchContext } from "../launch";
import { mediaLookup } from "../pages";
import { type App, perApp } from "../platform";
import { emailKinds } from "./kinds";

/** Kinds of emails to one person whose words a launch may have of its own. */
export const personalKinds = ["confirm", "welcome", "receipt", "recovery"] as const satisfies readonly EmailKindName[];
export type PersonalKind = (typeof personalKinds)[number];
export const isPersonal = (key: string): key is PersonalKind => (personalKinds as readonly string[]).includes(key);

/** The kind of one of a launch's emails, by its key or that of its second variant; undefined where the launch has none of it. */
export const kindOfKey = (context: Pick<LaunchContext, "plan" | "oneOffs" | "emails">, key: string): EmailKindName | undefined => {
  const { plan, oneOffs, emails } = context;
  const first = withoutVariant(key);
  const kind = plan.settings.emails.some(({ id }) => id === first)
    ? "bell"
    : plan.settings.sequences.some(({ steps }) => steps.some(({ id }) => id === first))
      ? "step"
      : oneOffs.has(first)
        ? "once"
        : isPersonal(first)
          ? first
          : undefined;
  return key === first || emails.has(key) ? kind : undefined;
};

/** Which variant of an email somebody gets, where a second one is published, and under which key it stands. */
export const variantFor = (
  { launch, emails }: Pick<LaunchContext, "launch" | "emails">,
  key: string,
  personId: string,
  /** Whether the first one can go: else nothing does. */
  hasFirst: boolean,
): { key: string; variant?: EmailVariant } => {
  const [first, second] = [emails.get(key), emails.get(variantKey(key))];
  if (!second?.published || !hasFirst) return { key };
  const variant = emailVariantOf(`${launch.id}/${key}`, personId, { A: first?.weight ?? 1, B: second.weight });
  return { key: variant === "B" ? variantKey(key) : key, variant };
};

/** What the program writes where the vendor has written nothing; undefined of a kind that the vendor alone can write. */
export const usualContent = (kind: EmailKindName): EmailContent | undefined => (isHung(kind) ? undefined : usualEmail(kind));

/** What an email of a launch says as it is sent; undefined where nothing was published that could go. */
export const publishedContent = ({ emails }: Pick<LaunchContext, "emails">, kind: EmailKindName, key: string): EmailContent | undefined =>
  emails.get(key)?.published ?? (key === withoutVariant(key) ? usualContent(kind) : undefined);

/** Makes an email's words ready for its readers, in the launch's look. */
export const compileContent = async (
  app: Pick<App, "config" | "vendor">,
  em: EntityManager,
  { launch }: Pick<LaunchContext, "launch">,
  kind: EmailKindName,
  content: EmailContent,
): Promise<CompiledEmail> =>
  compileEmail(content, {
    look: launch.look,
    launch: launch.name,
    vendor: app.vendor,
    media: await mediaLookup(em, [...mediaOf(content), launch.look.logo]),
    origin: app.config.origin,
    advertising: emailKinds[kind].advertising,
    locale: usualLocale,
  });

/** Emails that are ready to be filled, kept for as long as the launch they are of is. */
export const compiledEmails = perApp((app) => {
  const kept = new WeakMap<LaunchContext, Map<string, Promise<CompiledEmail>>>();
  return {
    /** An email of a launch as it is sent; undefined where it is not published. */
    of(context: LaunchContext, kind: EmailKindName, key: string): Promise<CompiledEmail> | undefined {
      let ofLaunch = kept.get(context);
      if (!ofLaunch) kept.set(context, (ofLaunch = new Map<string, Promise<CompiledEmail>>()));
      const known = ofLaunch.get(key);
      if (known) return known;
      const content = publishedContent(context, kind, key);
      if (!content) return undefined;
      const made = compileContent(app, app.fork(), context, kind, content);
      ofLaunch.set(key, made);
      made.catch(() => ofLaunch.delete(key));
      return made;
    },
  };
});
