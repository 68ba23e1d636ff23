import { counted, publicWords } from "../core/words";
import { addressOf, hrefOf, type Hole, type Target, type LinkSource } from "../core/pages";
import { countdownIn } from "./countdown";
import type { OrderFacts, PageFacts, PayFacts } from "./facts";
import { additionForm, askedNotice, optedInNotice, optInForm, ownForm, placeOf, priceLines } from "./forms";
import { html, type Html } from "./html";
import { metaTags } from "./meta";
import { bumpForm, bumpsWithin, couponForm } from "./besideOrder";
import { checkoutStartForm, choiceForm, oneStepForm, payForm } from "./checkoutForms";
import { boughtBlock, offerForms, receipt, waitingBlock } from "./orderForms";
import { comments, crossOffer, episodeList, opensWords, invitation, liveSession, partnerWord } from "./run";

const blockForm = ({ block, gift }: Extract<Hole, { kind: "form" }>, facts: PageFacts): Html => {
  const base = `/l/${facts.plan.slug}`;
  const { values, errors, said: own } = ownForm(facts, block.id);
  // What is said of the page itself stands in its first form in sight; there is no other place for it.
  const said = own ?? (facts.form.block === undefined && !block.over ? facts.notice : undefined);
  const listed = facts.listed === block.id || facts.listed === "";
  const asked = facts.asked === block.id;
  const wrong = Object.keys(errors).length > 0 || said;
  const form = listed
    ? optedInNotice(gift, facts.locale)
    : asked
      ? askedNotice(facts.locale)
      : html`${said}${optInForm({ action: `${base}/do/opt-in`, place: placeOf(facts, block.id), block, consent: block.consent || facts.consent, locale: facts.locale }, values, errors)}`;
  if (!block.over) return form;
  // Without script the address opens it; when it comes back with something to say it stands open.
  return html`<dialog class="over" id="over-${block.id}" aria-label="${block.heading || block.button}"${(listed || asked || wrong) && html` open`}><a class="shut" href="#" data-shut>${publicWords(facts.locale).forms.close}</a>${form}</dialog>`;
};

/** On one page the region stands beside the country. */
const withoutRegion = (facts: PayFacts): PayFacts => {
  if (!facts.choice) return facts;
  const { regions: _, ...choice } = facts.choice;
  return { ...facts, choice };
};

const orderForm = (
  hole: Extract<Hole, { kind: "checkout" | "offer" | "receipt" }>,
  order: OrderFacts | undefined,
  { form, notice, plan, bumps: known, seen, locale }: PageFacts,
): Html | undefined => {
  const around = { locale, zone: plan.zone, seen };
  const bumps = bumpsWithin(hole.kind === "checkout" ? hole.bumps : [], known, locale);
  if (!order) return notice;
  if (order.step === "waiting") return html`${notice}${waitingBlock(order.href, locale)}`;
  if (order.step === "bought") return html`${notice}${boughtBlock(order, locale)}`;
  if (hole.kind === "checkout" && order.step === "start")
    return html`${notice}${checkoutStartForm(order, hole.block.start, form.values, form.errors, around)}${bumps.seen}`;
  if (hole.kind === "checkout" && (order.step === "pay" || order.step === "one")) {
    const { values, errors } = form;
    const coupon = couponForm(order, values, errors, locale);
    const choice = choiceForm(order.step === "pay" ? order : withoutRegion(order), values, errors, locale);
    const written = { ...around, button: hole.block.pay, values, errors, choice, bumps: bumps.seen, coupon: coupon.seen };
    const whole = order.step === "pay" ? payForm(order, written) : oneStepForm(order, written);
    return html`${notice}${whole}${bumps.sent}${coupon.sent}`;
  }
  if (hole.kind === "offer" && order.step === "offer") return html`${notice}${offerForms(order, hole.block, form.errors, locale)}`;
  return hole.kind === "receipt" && order.step === "receipt" ? html`${notice}${receipt(order, locale)}` : notice;
};

/** What stands in a hole for this person at this instant. */
export const fillHole = (hole: Hole, facts: PageFacts): string | undefined => {
  const { plan, seen, address, now, product } = facts;
  switch (hole.kind) {
    case "bars":
    case "inline":
    case "card":
      return countdownIn(hole.kind, plan, seen.countdown, address.countdown, now);
    case "countdown":
      return countdownIn(hole.form, plan, seen.countdown, [hole.form], now);
    case "notice":
      // A form that was sent says itself what came of it.
      return facts.form.block === undefined ? facts.notice?.text : undefined;
    case "form":
      return blockForm(hole, facts).text;
    case "price":
      return priceLines(address.price!, seen.seats, product, hole.block.words, {
        zone: plan.zone,
        locale: facts.locale,
        ...(hole.block.strike && facts.was !== undefined ? { was: facts.was } : {}),
      }).text;
    case "seats":
      return seen.seats && html`<p class="seats"><b>${seen.seats.left}</b> of ${seen.seats.of} ${hole.words}</p>`.text;
    case "refundDays":
      return html`${counted(product.refundDays, "day")}.`.text;
    case "checkout":
    case "offer":
    case "receipt":
      return orderForm(hole, facts.order, facts)?.text;
    case "bump":
      return bumpForm(hole.block, hole.picture, facts.bumps, facts.locale)?.text;
    case "episodes":
      return episodeList(hole.heading, facts)?.text;
    case "live":
      return liveSession(hole, facts)?.text;
    case "comments":
      return comments(hole.block, facts).text;
    case "cross":
      return crossOffer(hole, facts)?.text;
    case "partner":
      return partnerWord(hole.words, facts)?.text;
    case "addition":
      return additionForm(hole.block, hole.picture, facts)?.text;
    case "invitation":
      return invitation(hole.block, facts).text;
    case "meta":
      return metaTags(facts).text;
    case "href":
      return episodeAttributes(hole.to, facts) ?? hrefAttributes(wayOf(plan), facts.key, hole.to);
  }
};

const wayOf = ({ slug, pages, settings }: PageFacts["plan"]): LinkSource => ({ slug, pages, settings });

/** Whether the next step of a page is an episode, which may be locked for who looks. */
export const leadsToEpisode = (source: LinkSource, from: string, to: Target): boolean => {
  if (to.to !== "next") return false;
  const href = hrefOf(source, from, to);
  return (source.settings?.episodes ?? []).some(({ page }) => {
    const found = source.pages.find(({ key }) => key === page);
    return found !== undefined && addressOf(source.slug, found) === href;
  });
};

/** A way on to an episode that is still locked is no link, and says when it will be one. */
const episodeAttributes = (to: Target, facts: PageFacts): string | undefined => {
  const { plan, seen, key } = facts;
  if (to.to !== "next") return undefined;
  const href = hrefOf(wayOf(plan), key, to);
  const locked = seen.episodes.find(({ page, open }) => !open && addressOf(plan.slug, page) === href);
  return locked && html` aria-disabled="true" data-when="${opensWords(locked, facts)}"`.text;
};

/** The attributes of a link. A target that leads to nothing is no link at all. */
export const hrefAttributes = (source: LinkSource, from: string, to: Target): string => {
  const href = hrefOf(source, from, to);
  if (href === undefined) return ' aria-disabled="true"';
  const how =
    to.to === "form"
      ? html` data-over="over-${to.block}"`
      : to.to === "checkout" && to.over
        ? html` data-frame`
        : to.to === "outside"
          ? html` rel="noopener"`
          : undefined;
  return html` href="${href}"${how}`.text;
};
