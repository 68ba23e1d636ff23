import { phaseFor } from "../../../core/launch";
import { formsOf, mediaHref } from "../../../core/pages";
import { Media, OptIn } from "../../../store/tables";
import type { Draft, EmailKind } from "../emailKind";

/** What the form of an opt-in promised, by its address. */
const giftOf = async ({ app, em, context, data }: Draft<"welcome">): Promise<{ name: string; href: string } | undefined> => {
  const given = data.optInId ? await em.findOne(OptIn, { id: data.optInId }) : null;
  const page = given && context.pages.find(({ key }) => key === given.page);
  const form = page?.published && formsOf(page.published).find(({ id }) => id === given!.form);
  const file = form && form.gift ? await em.findOne(Media, { id: form.gift }) : null;
  return file ? { name: file.name, href: `${app.config.origin}${mediaHref(file, `file.${file.extension}`)}` } : undefined;
};

export const welcome: EmailKind<"welcome"> = {
  advertising: true,
  key: () => "welcome",
  async compose(draft) {
    const { app, now, contact, token } = draft;
    if (contact.unsubscribedAt) return { stop: "unsubscribed" };
    const { launch, plan } = draft.context;
    const viewer = await draft.reader();
    const phase = phaseFor(plan, viewer, now);
    if (phase === "after") return { stop: "doors_closed" };
    const full = phase === "during" && (await draft.soldOut());
    return { facts: { viewer, full, gift: await giftOf(draft), next: `${app.config.origin}/l/${launch.slug}?k=${token}` } };
  },
};
