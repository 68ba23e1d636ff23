import type { EmailFacts, FieldValues } from "../../core/emails";
import { phaseFor, priceAt, view, windowFor, type Viewer } from "../../core/launch";
import { formatMoney } from "../../core/money";
import { emailWords, fullMoment, publicWords, zoneCity } from "../../core/words";
import { countdownSentence } from "../../public/countdown";
import type { Contact } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { countersFor } from "../offers";
import { partnerWordOfPerson } from "../partners";
import type { LaunchContext } from "../launch";
import type { App } from "../platform";
import type { KindFacts } from "./emailKind";
import { zoneOfReader } from "./zoneOfReader";

interface Asked {
  app: App;
  em: EntityManager;
  context: LaunchContext;
  contact: Pick<Contact, "id" | "firstName" | "zone" | "guessedZone"> & { personId: string };
  /** The name to greet with: empty until the inbox was opened, since anyone may have typed it. */
  firstName: string;
  now: Date;
  token: string;
  /** What the words of the email ask for: what they do not is not looked up. */
  asks: { partner: boolean; price: boolean };
}

/** The deadline of a reader in all the forms in which an email says it: the very instant that the pages show them. */
const deadlineFacts = (
  { app, context, contact, now, token }: Asked,
  viewer: Viewer,
  full: boolean,
): Pick<EmailFacts, "countdown"> & { fields: FieldValues } => {
  const { launch, plan } = context;
  const zone = zoneOfReader(contact, context);
  const moment = (at: Date) => emailWords().moment(fullMoment(at, zone), zoneCity(zone));
  const window = windowFor(plan, viewer, now);
  const running = full ? undefined : view(plan, viewer, now).countdown;
  const says = running && countdownSentence(running, zone);
  const { welcome } = emailWords();
  const open = phaseFor(plan, viewer, now) === "during" && !full;
  const next = full ? welcome.onTheList(publicWords().price.allTaken(plan.settings.seats!)) : says;
  return {
    fields: {
      ...(window ? { deadline: moment(window.closes), opening: moment(window.opens) } : {}),
      "what comes next": [open ? welcome.open(launch.name) : welcome.waits(launch.name), ...(next ? [`${next}.`] : [])].join(" "),
    },
    ...(running && says ? { countdown: { src: `${app.config.origin}/c/${launch.slug}.png?k=${token}`, says } } : {}),
  };
};

/** All that an email says of its reader at the moment at which it goes. */
export const readerFacts = async (asked: Asked, { viewer, full = false, fields, ...own }: KindFacts): Promise<EmailFacts> => {
  const { app, em, context, contact, firstName, now, token, asks } = asked;
  const { launch, plan, product } = context;
  const timed = viewer ? deadlineFacts(asked, viewer, full) : { fields: {} };
  const sold = asks.price ? priceAt(plan, now, await countersFor(app).of(context)) : undefined;
  const partner = asks.partner && contact.personId !== "" ? await partnerWordOfPerson(em, context, contact.personId, now) : undefined;
  return {
    ...own,
    ...(timed.countdown ? { countdown: timed.countdown } : {}),
    ...(partner ? { partner: { name: partner.name, note: partner.note } } : {}),
    token,
    fields: {
      ...timed.fields,
      "first name": firstName,
      launch: launch.name,
      product: product.name,
      ...(sold ? { price: formatMoney(sold.minor, sold.currency) } : {}),
      ...(partner ? { partner: partner.name } : {}),
      ...fields,
    },
  };
};
