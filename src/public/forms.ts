import { scarcity, type LaunchView, type PriceView } from "../core/launch";
import { formatMoney, type Locale } from "../core/money";
import { publicWords } from "../core/words";
import { priceWords } from "../core/offers";
import type { BlockOf, FormField } from "../core/pages";
import type { Errors, Extras, PageFacts, Values } from "./facts";
import { html, type Html } from "./html";

export const wrong = (errors: Errors, name: string): Html | undefined =>
  errors[name] ? html`<span class="wrong" id="${name}-wrong">${errors[name]}</span>` : undefined;
export const aria = (errors: Errors, name: string): Html | undefined =>
  errors[name] ? html` aria-invalid="true" aria-describedby="${name}-wrong"` : undefined;

export const field = (name: string, label: string, type: "text" | "email", autocomplete: string, values: Values, errors: Errors): Html =>
  html`<label
    >${label}<input
      type="${type}"
      name="${name}"
      autocomplete="${autocomplete}"
      value="${values[name] ?? ""}"
      maxlength="254"
      required${aria(errors, name)}
    />${wrong(errors, name)}</label
  >`;

/** What was typed into one form of a page, what is wrong with it, and what is to be said in it. */
export const ownForm = (
  { form, notice: said }: Pick<PageFacts, "form" | "notice">,
  block: string,
): { values: Values; errors: Errors; said?: Html } => {
  if (form.block === block) return { values: form.values, errors: form.errors, said };
  return form.block === undefined ? { values: form.values, errors: form.errors } : { values: {}, errors: {} };
};

/** What a form of a page sends of itself: where it stands, since when it was shown, and the order behind the page. */
export const placeOf = ({ key, now, extras, form }: Pick<PageFacts, "key" | "now" | "extras" | "form">, block: string): Html => {
  // Who mends one field of a form that came back is quick, and no program: it counts from when it was first shown.
  const before = ownForm({ form }, block).values["shownAt"];
  const shownAt = before && /^\d{1,15}$/.test(before) ? before : now.getTime();
  return html`<input type="hidden" name="page" value="${key}" /><input type="hidden" name="block" value="${block}" /><input type="hidden" name="shownAt" value="${shownAt}" />${extras.orderLink && html`<input type="hidden" name="o" value="${extras.orderLink}" />`}${extras.tracking && html`<input type="hidden" name="tracking" value="${extras.tracking}" />`}`;
};

/** Where the script of the page says in which zone its reader is. */
export const zoneField = html`<input type="hidden" name="zone" data-zone />`;

/** A field that nobody sees: whoever fills it is a program. */
export const trap = (locale: Locale): Html => html`<div class="trap" aria-hidden="true">
      <label>${publicWords(locale).forms.leaveEmpty}<input type="text" name="website" tabindex="-1" autocomplete="off" /></label>
    </div>`;

const autocomplete = { firstName: "given-name", lastName: "family-name", phone: "tel" } as const;

/** A field of an opt-in form: one of the person's own columns, or a question of the vendor's. */
const formField = (one: FormField, values: Values, errors: Errors, locale: Locale): Html => {
  const w = publicWords(locale).forms;
  const name = one.is === "own" ? `own_${one.id}` : one.is;
  const label = html`${one.label}${!one.required && html` <small>${w.optional}</small>`}`;
  if (one.is === "own" && one.kind === "tick")
    return html`<label class="tick"
        ><input type="checkbox" name="${name}" value="yes" ${values[name] ? html`checked` : undefined}${aria(errors, name)} /><span>${label}</span></label
      >${wrong(errors, name)}`;
  if (one.is === "own" && one.kind === "choice")
    return html`<label
      >${label}<select name="${name}"${aria(errors, name)}>
        <option value="">${w.choose}</option>
        ${one.choices.map((choice) => html`<option value="${choice}" ${values[name] === choice ? html` selected` : undefined}>${choice}</option>`)}</select
      >${wrong(errors, name)}</label
    >`;
  return html`<label
    >${label}<input
      type="${one.is === "phone" ? "tel" : "text"}"
      name="${name}"
      autocomplete="${one.is === "own" ? "off" : autocomplete[one.is]}"
      value="${values[name] ?? ""}"
      maxlength="254" ${one.required && html`required`}${aria(errors, name)}
    />${wrong(errors, name)}</label
  >`;
};

interface OptInForm {
  action: string;
  place: Html;
  block: BlockOf<"form">;
  consent: string;
  /** What stands between the heading and the first field. */
  lead?: Html;
  locale: Locale;
}

/** The opt-in form. The box is never ticked beforehand; where the form comes back, it is as its sender left it. */
export const optInForm = ({ action, place, block, consent, lead, locale }: OptInForm, values: Values, errors: Errors): Html =>
  html`<form method="post" action="${action}" class="box" data-once novalidate>
    ${block.heading && html`<h3>${block.heading}</h3>`}${lead}${place}${zoneField}${block.fields.map((one) => formField(one, values, errors, locale))}${field("email", publicWords(locale).forms.email, "email", "email", values, errors)}
    ${trap(locale)}
    <label class="tick"><input type="checkbox" name="consent" value="yes" ${values["consent"] === "yes" && html`checked`} ${aria(errors, "consent")} /><span>${consent}</span></label
    >${wrong(errors, "consent")}<button class="go">${block.button}</button>${block.note && html`<p class="fine">${block.note}</p>`}
  </form>`;

/** What a visitor reads after the opt-in. */
export const optedInNotice = (gift: { name: string; href: string } | undefined, locale: Locale): Html => {
  const w = publicWords(locale).forms;
  return html`<div class="notice" role="status">
    <p><strong>${w.listed}</strong></p>
    <p>${w.listedNext}</p>
    ${gift && html`<p><a href="${gift.href}" download="${gift.name}">${w.gift(gift.name)}</a></p>`}
  </div>`;
};

/** What a visitor reads whose address waits to be confirmed. */
export const askedNotice = (locale: Locale): Html => {
  const w = publicWords(locale).forms;
  return html`<div class="notice" role="status">
    <p><strong>${w.asked}</strong></p>
    <p>${w.askedNext}</p>
  </div>`;
};

export const notice = (text: string, loss = true): Html => html`<div class="notice${loss ? " loss" : ""}" role="alert"><p>${text}</p></div>`;

/** The price and what is scarce about it, as the clock knows them. */
export const priceLines = (
  price: PriceView,
  seats: LaunchView["seats"],
  { taxMode, terms }: Pick<PageFacts["product"], "taxMode" | "terms">,
  words: string,
  { zone, locale, was }: { zone: string; locale: Locale; was?: number },
): Html => {
  const w = publicWords(locale).price;
  const money = (minor: number) => formatMoney(minor, price.currency, locale);
  const claims = scarcity(price, seats, zone, locale);
  const { kind } = terms;
  const paid = kind === "once" ? w.once : kind === "tiers" ? w.each : "";
  // A price that is paid in parts, or named by the buyer, is said in words exactly as it will be charged.
  const inWords = kind === "once" || kind === "tiers" ? undefined : priceWords(terms, price.minor, price.currency, locale);
  return html`<div class="price">
      ${was !== undefined && was > price.minor && html`<s>${money(was)}</s> `}${kind === "open" && price.minor === 0 ? w.nameYourOwn : money(price.minor)}<small
        >${inWords && html`${inWords}<br />`}${taxMode === "inclusive" ? w.taxIncluded : w.plusTax}${paid}${kind === "tiers" && html`<br />${priceWords(terms, price.minor, price.currency, locale)}`}${words && html`<br />${words}`}</small
      >
    </div>
    ${claims.length > 0 && html`<p class="claims">${claims.join(" · ")}</p>`}`;
};

export const small = (src: string | undefined): Html | undefined => (src ? html`<img src="${src}" alt="" loading="lazy" />` : undefined);

/** An offer inside a page: added to the order before it is paid, bought by itself afterwards. */
export const additionForm = (block: BlockOf<"addition">, picture: string | undefined, { plan, extras, key }: PageFacts): Html | undefined => {
  const sold: NonNullable<Extras["additions"]>[string] = block.product ? extras.additions?.[block.product] : undefined;
  if (!sold) return undefined;
  const action = `/l/${plan.slug}/do/add`;
  const hidden = html`<input type="hidden" name="page" value="${key}" /><input type="hidden" name="product" value="${block.product!}" />`;
  return html`<div class="bump">${small(picture ?? sold.picture)}<div>${block.heading && html`<h3>${block.heading}</h3>`}${block.words && html`<p>${block.words}</p>`}
    <p class="fine">${sold.name}, ${block.strike && sold.was && html`<s>${sold.was}</s> `}${sold.price}</p>
    <form method="post" action="${action}" data-once>${hidden}<button class="go" name="answer" value="yes">${block.yes}</button></form>${
      block.no &&
      html`<form method="post" action="${action}" data-once>${hidden}<button class="plain" name="answer" value="no">${block.no}</button></form>`
    }</div></div>`;
};
