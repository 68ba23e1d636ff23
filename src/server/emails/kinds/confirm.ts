import { OptIn } from "../../../store/tables";
import { signLink } from "../../platform";
import type { EmailKind } from "../emailKind";

export const confirm: EmailKind<"confirm"> = {
  advertising: false,
  key: () => "confirm",
  async compose({ app, now, em, context: { launch }, data }) {
    const given = await em.findOne(OptIn, { id: data.optInId });
    if (!given || given.confirmedAt) return { stop: "confirmed" };
    const { origin, INKBELL_SECRET } = app.config;
    return { facts: { next: `${origin}/l/${launch.slug}/confirm?c=${signLink(INKBELL_SECRET, "opt_in", given.id, now, 7)}` } };
  },
};
