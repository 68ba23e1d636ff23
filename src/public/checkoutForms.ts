import type { LaunchView } from "../core/launch";
import { formatAmount, formatBasisPoints, formatMoney, type Locale } from "../core/money";
import { amountShown, totalOf, type TaxedAmount } from "../core/offers";
import { countryName, countryNames } from "../core/people";
import { clockTime, faultSentence, fullMoment, publicWords, taxName, zoneCity } from "../core/words";
import type { Bought, Errors, KnownBuyer, OrderFacts, PayFacts, Region, Values } from "./facts";
import { aria, field, small, wrong, zoneField } from "./forms";
import { html, linked, type Html } from "./html";

/** What every form of an order is written with. */
export interface Around {
  locale: Locale;
  zone: string;
  /** The seats that are left and the deadline, as the page's own countdown says them. */
  seen: Pick<LaunchView, "seats" | "countdown">;
}

const shownAs =
  ({ taxMode }: Pick<Bought, "taxMode">) =>
  (amount: TaxedAmount) =>
    amountShown(amount, taxMode);

/** The tax's name and its rates where the buyer is: `VAT` and `23 %`. */
const taxOf = ({ lines, country }: Bought, locale: Locale): { name: string; rates: string } => {
  // Lines of several rates are summed; the rate is named where there is one.
  const rates = [...new Set(lines.map(({ amount }) => amount.rateBp))].map((bp) => formatBasisPoints(bp, locale));
  return { name: taxName(country, locale), rates: [rates.join(publicWords(locale).checkout.and), countryName(country)].filter(Boolean).join(", ") };
};

const table = (bought: Bought, locale: Locale): Html => {
  const { lines, currency, taxMode, coupon, recurring, captureLater } = bought;
  const w = publicWords(locale).checkout;
  const money = (minor: number) => formatMoney(minor, currency, locale);
  const shown = shownAs(bought);
  const amount = totalOf(lines.map((line) => line.amount));
  // The prices stand as they are without a code, and what it takes off below them.
  const off = lines.reduce((sum, { amount: now, before = now }) => sum + shown(before) - shown(now), 0);
  const { name, rates } = taxOf(bought, locale);
  const row = (head: string, cell: Html | string) =>
    html`<tr>
      <th scope="row">${head}</th>
      <td>${cell}</td>
    </tr>`;
  return html`<table data-sum="table">
    <tbody>
      ${lines.map(
        (line) => html`<tr>
          <th scope="row">${line.name}${line.contents && html`<br /><small>${line.contents}</small>`}</th>
          <td>${money(shown(line.before ?? line.amount))}</td>
        </tr>`,
      )}
      ${off > 0 && row(w.discount(coupon.code ?? ""), `−${money(off)}`)}
      ${!bought.reverse && row(taxMode === "exclusive" ? w.plusTax(name, rates) : w.includedTax(name, rates), money(amount.tax))}
      <tr class="sum">
        <th scope="row">${recurring.length > 0 ? w.toPayNow : w.toPay}</th>
        <td>${money(amount.gross)}</td>
      </tr>
      ${[...(captureLater ? [w.authorized] : []), ...recurring].map(
        (words) => html`<tr>
          <td colspan="2" class="less">${words}</td>
        </tr>`,
      )}
    </tbody>
  </table>`;
};

/**
 * What is bought, from the first step on: beside the form where there is room, folded above it on a phone, where its line says name, tax and total.
 */
const summary = (bought: Bought, { locale, zone, seen }: Around): Html => {
  const { lines, currency, picture, refundDays } = bought;
  const w = publicWords(locale);
  const amount = totalOf(lines.map((line) => line.amount));
  const main = lines[0]!;
  const seats = seen.seats && seen.seats.left > 0 ? w.price.seatsLeft(seen.seats.left, seen.seats.of) : undefined;
  const tax = bought.reverse ? undefined : w.checkout.includedTaxAmount(taxOf(bought, locale).name, formatMoney(amount.tax, currency, locale));
  const closes = seen.countdown?.to === "closing" ? w.countdown.closing(fullMoment(seen.countdown.until, zone), zoneCity(zone)) : undefined;
  const held = bought.priceHoldUntil && w.checkout.priceHeld(clockTime(bought.priceHoldUntil, zone));
  const notes = [
    ...(bought.reverse ? [w.checkout.reverse] : []),
    ...(seats ? [`${seats}.`] : []),
    ...(closes ? [`${closes}.`] : []),
    ...(held ? [held] : []),
    ...(refundDays > 0 ? [w.checkout.refund(refundDays)] : []),
  ];
  return html`<details class="bought">
    <summary>${small(picture)}<span><strong>${main.name}</strong><small data-sum="brief">${[tax, seats].filter(Boolean).join(" · ")}</small></span><b data-sum="due">${formatMoney(amount.gross, currency, locale)}</b></summary>
    <div class="whole">
      ${picture && html`<img src="${picture}" alt="" />`}<h2>${w.checkout.bought}</h2>
      ${table(bought, locale)}${notes.length > 0 && html`<p class="fine">${notes.join(" ")}</p>`}
    </div>
  </details>`;
};

/** A step of the checkout with what it buys beside it. */
const step = (bought: Bought, around: Around, form: Html): Html =>
  html`<div class="order"><div>${summary(bought, around)}<div class="pay">${form}</div></div></div>`;

const knownLine = (known: KnownBuyer | undefined, locale: Locale): Html | undefined => {
  const w = publicWords(locale).checkout;
  if (!known) return undefined;
  return html`<p class="fine">${"as" in known ? linked(w.signedIn(known.as), "/library") : linked(w.signIn, known.signIn)}</p>`;
};

/** Who buys, and from where. The sums follow the country while it is chosen. */
const buyerFields = (values: Values, errors: Errors, locale: Locale): Html => {
  const { checkout: w, forms } = publicWords(locale);
  return html`${zoneField}${field("email", forms.email, "email", "email", values, errors)}${field("firstName", forms.firstName, "text", "given-name", values, errors)}<label
      >${w.country}<select name="country" autocomplete="country" required data-live${aria(errors, "country")}>
        <option value="">${forms.choose}</option>
        ${Object.entries(countryNames(locale.slice(0, 2))).map(([code, name]) => html`<option value="${code}" ${values["country"] === code ? html` selected` : undefined}>${name}</option>`)}</select
      >${wrong(errors, "country")}</label
    ><details class="more"${(values["vatNumber"] || errors["vatNumber"]) && html` open`}><summary>${w.business}</summary><label
      >${w.vatNumber}<input type="text" name="vatNumber" autocomplete="off" value="${values["vatNumber"] ?? ""}" maxlength="20" data-live${aria(errors, "vatNumber")} />${wrong(errors, "vatNumber")}<small>${w.vatNumberNote}</small></label></details>`;
};

/** The same folded into a line where all of it is known already, so that nothing stands before the button. */
const knownBuyer = (known: KnownBuyer | undefined, values: Values, errors: Errors, locale: Locale): Html => {
  const fields = buyerFields(values, errors, locale);
  const asked = ["email", "firstName", "country"];
  const complete = known && "as" in known && asked.every((name) => values[name]) && !asked.some((name) => errors[name]);
  if (!complete) return html`${knownLine(known, locale)}${fields}`;
  const w = publicWords(locale).checkout;
  return html`${knownLine(known, locale)}<details class="more"><summary>${values["firstName"]}, ${values["email"]}, ${countryName(values["country"]!)} · ${w.change}</summary>${fields}</details>`;
};

/** First step of the checkout: who buys, and from where. */
export const checkoutStartForm = (
  { action, of, known, bought }: Extract<OrderFacts, { step: "start" }>,
  button: string,
  values: Values,
  errors: Errors,
  around: Around,
): Html =>
  step(
    bought,
    around,
    html`<form method="post" action="${action}" class="box" data-once data-checkout novalidate>
    ${of && html`<input type="hidden" name="of" value="${of}" />`}${knownLine(known, around.locale)}${buyerFields(values, errors, around.locale)}<button class="go">${button}</button>
    <p class="fine">${publicWords(around.locale).checkout.nothingYet}</p>
  </form>`,
  );

/** What is agreed to before the press; the boxes are never ticked beforehand, and as they were left where the form comes back. Always there, for its sums may be replaced. */
const agreements = ({ waiver, terms }: PayFacts, values: Values, errors: Errors, locale: Locale): Html => {
  const w = publicWords(locale).checkout;
  const must = (code: "waiver_missing" | "terms_missing") => faultSentence({ code }, locale);
  return html`<div data-sum="agree">${
    waiver &&
    html`<label class="tick"><input type="checkbox" name="waiver" value="yes" ${values["waiver"] === "yes" && html`checked`} data-must="${must("waiver_missing")}"${aria(errors, "waiver")} /><span>${w.waiver}</span></label>${wrong(errors, "waiver")}`
  }${
    terms &&
    html`<label class="tick"><input type="checkbox" name="terms" value="yes" ${values["terms"] === "yes" && html`checked`} data-must="${must("terms_missing")}"${aria(errors, "terms")} /><span>${linked(w.terms, terms, html` target="_blank" rel="noopener"`)}</span></label>${wrong(errors, "terms")}`
  }</div>`;
};

/** Where in the country: asked where a region has a rate of its own. */
const regionField = (regions: Region[], locale: Locale, live = false): Html => {
  const w = publicWords(locale).checkout;
  return html`<label>${w.region}<select name="region"${live && html` data-live`}><option value="">${w.elsewhere}</option>${regions.map(({ code, name, chosen }) => html`<option value="${code}"${chosen && html` selected`}>${name}</option>`)}</select></label>`;
};

/** How much, how many, in which currency: a form of its own, which sends itself where there is script. */
export const choiceForm = ({ choice, checkout, currency }: PayFacts, values: Values, errors: Errors, locale: Locale): Html | undefined => {
  if (!choice || Object.keys(choice).length < 2) return undefined;
  const w = publicWords(locale).checkout;
  const { action, quantity, named, currencies, regions } = choice;
  return html`<form method="post" action="${action}" class="box choice" data-bump novalidate>
    <input type="hidden" name="checkout" value="${checkout}" />${
      quantity !== undefined &&
      html`<label>${w.quantity}<input type="number" name="quantity" min="1" max="10000" value="${errors["quantity"] ? (values["quantity"] ?? "") : quantity}"${aria(errors, "quantity")} />${wrong(errors, "quantity")}</label>`
    }${
      named &&
      html`<label>${w.amount(currency)}${named.least > 0 && html` <small>${w.least(formatMoney(named.least, currency, locale))}</small>`}<input type="text" inputmode="decimal" name="named" value="${errors["named"] ? (values["named"] ?? "") : formatAmount(named.minor, currency)}"${aria(errors, "named")} />${wrong(errors, "named")}</label>`
    }${
      currencies &&
      html`<label>${w.currency}<select name="currency"${aria(errors, "currency")}>${currencies.map((code) => html`<option value="${code}"${code === currency && html` selected`}>${code}</option>`)}</select>${wrong(errors, "currency")}</label>`
    }${regions && regionField(regions, locale)}<noscript><button class="plain">${w.changeOrder}</button></noscript>
  </form>`;
};

/** The card in the processor's own frame. */
export const cardFrame = (src: string, locale: Locale): Html => {
  const w = publicWords(locale).checkout;
  return html`<label for="card">${w.card}</label><iframe class="cardfield" id="card" name="card" title="${w.cardFrame}" src="${src}"></iframe>`;
};

/** The end of an order form: the card, or the one that is known, or none; and the press that pays. */
const paying = (form: PayFacts, button: string, errors: Errors, locale: Locale): Html => {
  const w = publicWords(locale).checkout;
  const total = totalOf(form.lines.map((line) => line.amount)).gross;
  const press = `${button} · ${formatMoney(total, form.currency, locale)}`;
  const wrongCard = html`<p class="wrong" data-card-wrong role="alert">${errors["cardToken"] ?? ""}</p>`;
  if (form.free)
    return html`<input type="hidden" name="cardToken" value="none" />${wrongCard}<button class="go" data-sum="button">${press}</button>
      <p class="fine">${w.free}</p>`;
  const other = html`<input type="hidden" name="cardToken" value="" />${cardFrame(form.cardFieldUrl, locale)}
    ${wrongCard}
    <noscript><p class="notice loss">${w.cardNeedsScript}</p></noscript
    ><button class="${form.stored ? "plain" : "go"}" data-sum="button">${press}</button>
    <p class="fine">${w.cardNote}</p>`;
  if (!form.stored) return other;
  return html`<button class="go" name="stored" value="yes" data-stored data-sum="button">${press} <small>${w.storedCard(form.stored.last4)}</small></button>
    <details class="more"${errors["cardToken"] && html` open`}><summary>${w.otherCard}</summary>${other}</details>`;
};

/** What an order form is written with: the words of its button, what was typed and is wrong, and what stands in it and sends a form of its own. */
export interface Written extends Around {
  button: string;
  values: Values;
  errors: Errors;
  bumps?: Html;
  coupon?: Html;
  choice?: Html;
}

/** What the press sends of the sums: what was shown, and of which checkout. */
const shownSums = ({ lines, checkout }: PayFacts): Html =>
  html`<input type="hidden" name="shown" value="${totalOf(lines.map((line) => line.amount)).gross}" data-sum="shown" /><input type="hidden" name="checkout" value="${checkout}" />`;

/** Second step: the card in the processor's own frame, with the total beside it. */
export const payForm = (form: Extract<OrderFacts, { step: "pay" }>, written: Written): Html => {
  const { button, errors, bumps, coupon, choice, locale } = written;
  const values = form.kept;
  const kept = (name: string) => html`<input type="hidden" name="${name}" value="${values[name] ?? ""}" />`;
  return step(
    form,
    written,
    html`${choice}<form method="post" action="${form.action}" class="box" data-once data-checkout data-card-form novalidate>
    <p class="who">
      <span>${values["firstName"] ?? ""}, ${values["email"] ?? ""}, ${countryName(values["country"] ?? "")}</span
      ><a href="${form.editHref}">${publicWords(locale).checkout.change}</a>
    </p>
    ${shownSums(form)}${kept("email")}${kept("firstName")}${kept("country")}${bumps}${coupon}${agreements(form, values, errors, locale)}${paying(form, button, errors, locale)}
  </form>`,
  );
};

/** All of it on one page: who buys, the total, which follows the country, and the card. */
export const oneStepForm = (form: Extract<OrderFacts, { step: "one" }>, written: Written): Html => {
  const { button, values, errors, bumps, coupon, choice, locale } = written;
  return step(
    form,
    written,
    html`${choice}<form method="post" action="${form.action}" class="box" data-once data-checkout data-card-form novalidate>
    ${form.of && html`<input type="hidden" name="of" value="${form.of}" />`}${knownBuyer(form.known, { ...form.kept, ...values }, errors, locale)}<div data-sum="region">${form.choice?.regions && regionField(form.choice.regions, locale, true)}</div>
    ${shownSums(form)}${bumps}${coupon}${agreements(form, values, errors, locale)}${paying(form, button, errors, locale)}
  </form>`,
  );
};
