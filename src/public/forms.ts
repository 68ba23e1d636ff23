import { scarcity, type LaunchView, type PriceView } from "../core/launch";
import { countries } from "../core/people";
import { formatMoney } from "../core/money";
import type { TaxedAmount, TaxMode } from "../core/offers";
import { html, type Html } from "./html";

export type Values = Record<string, string | undefined>;
export type Errors = Record<string, string | undefined>;

const wrong = (errors: Errors, name: string): Html | undefined =>
  errors[name] ? html`<span class="wrong" id="${name}-wrong">${errors[name]}</span>` : undefined;
const aria = (errors: Errors, name: string): Html | undefined =>
  errors[name] ? html` aria-invalid="true" aria-describedby="${name}-wrong"` : undefined;

const field = (name: string, label: string, type: "text" | "email", autocomplete: string, values: Values, errors: Errors): Html =>
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

/** The opt-in form. The box is never ticked beforehand. */
export const optInForm = (action: string, page: string, button: string, consent: string, values: Values, errors: Errors): Html =>
  html`<form method="post" action="${action}" class="block" data-once novalidate>
    <input type="hidden" name="page" value="${page}" />${field("firstName", "First name", "text", "given-name", values, errors)}${field("email", "Email", "email", "email", values, errors)}
    <div class="hp" aria-hidden="true">
      <label>Leave this empty<input type="text" name="website" tabindex="-1" autocomplete="off" /></label>
    </div>
    <label class="tick"><input type="checkbox" name="consent" value="yes" ${aria(errors, "consent")} /><span>${consent}</span></label
    >${wrong(errors, "consent")}<button class="go">${button}</button>
  </form>`;

/** The way on from a content page. */
export const goOn = (href: string, button: string): Html => html`<div class="block"><a class="go" href="${href}">${button}</a></div>`;

/** What a visitor reads after the opt-in. */
export const optedInNotice = (): Html =>
  html`<div class="notice" role="status">
    <p><strong>You are on the list.</strong></p>
    <p>Look into your inbox: a letter with the date is on its way.</p>
  </div>`;

export const notice = (text: string, loss = true): Html => html`<div class="notice${loss ? " loss" : ""}" role="alert"><p>${text}</p></div>`;

/** The price as the sales page names it, with the way to the checkout. */
export const priceBox = (
  price: PriceView,
  seats: LaunchView["seats"],
  taxMode: TaxMode,
  button: string,
  href: string,
  refundDays: number,
  zone: string,
): Html => {
  const claims = scarcity(price, seats, zone);
  return html`<div class="block">
    <div class="price">
      ${formatMoney(price.minor, price.currency)}<small
        >${taxMode === "inclusive" ? "with tax, paid once" : "plus the tax of your country, paid once"}</small
      >
    </div>
    ${claims.length > 0 && html`<p class="claims">${claims.join(" · ")}</p>`}
    <a class="go" href="${href}">${button}</a>
    <p class="fine">${refundDays} days to change your mind: write to us within them and the money goes back.</p>
  </div>`;
};

/** First step of the checkout: who buys, and from where. */
export const checkoutStartForm = (action: string, values: Values, errors: Errors): Html =>
  html`<form method="post" action="${action}" class="block" data-once novalidate>
    ${field("email", "Email", "email", "email", values, errors)}${field("firstName", "First name", "text", "given-name", values, errors)}<label
      >Country<select name="country" autocomplete="country" required${aria(errors, "country")}>
        <option value="">Choose</option>
        ${Object.entries(countries).map(([code, name]) => html`<option value="${code}" ${values["country"] === code ? html` selected` : undefined}>${name}</option>`)}</select
      >${wrong(errors, "country")}</label
    ><button class="go">Go on to the payment</button>
    <p class="fine">Nothing is charged yet. The next step shows the total with tax.</p>
  </form>`;

interface PayForm {
  action: string;
  editHref: string;
  checkout: string;
  productName: string;
  amount: TaxedAmount;
  currency: string;
  taxMode: TaxMode;
  cardFieldUrl: string;
  button: string;
}

const totals = (name: string, amount: TaxedAmount, currency: string, taxMode: TaxMode): Html => {
  const money = (minor: number) => formatMoney(minor, currency);
  const rate = `${amount.rateBp / 100} %`;
  return html`<table>
    <tbody>
      <tr>
        <th scope="row">${name}</th>
        <td>${money(taxMode === "inclusive" ? amount.gross : amount.net)}</td>
      </tr>
      ${
        taxMode === "exclusive"
          ? html`<tr>
              <th scope="row">Tax, ${rate}</th>
              <td>${money(amount.tax)}</td>
            </tr>`
          : undefined
      }
      <tr class="sum">
        <th scope="row">To pay</th>
        <td>${money(amount.gross)}</td>
      </tr>
      ${
        taxMode === "inclusive"
          ? html`<tr>
              <th scope="row">of it tax, ${rate}</th>
              <td>${money(amount.tax)}</td>
            </tr>`
          : undefined
      }
    </tbody>
  </table>`;
};

/** Second step: the total with tax, and the card in the processor's own frame. */
export const payForm = (form: PayForm, values: Values, errors: Errors): Html =>
  html`<form method="post" action="${form.action}" class="block" data-once data-card-form novalidate>
    ${totals(form.productName, form.amount, form.currency, form.taxMode)}
    <p class="who">
      <span>${values["firstName"] ?? ""}, ${values["email"] ?? ""}, ${countries[values["country"] ?? ""] ?? ""}</span
      ><a href="${form.editHref}">Change</a>
    </p>
    <input type="hidden" name="shown" value="${form.amount.gross}" /><input type="hidden" name="checkout" value="${form.checkout}" /><input type="hidden" name="email" value="${values["email"] ?? ""}" /><input
      type="hidden"
      name="firstName"
      value="${values["firstName"] ?? ""}"
    /><input type="hidden" name="country" value="${values["country"] ?? ""}" /><input type="hidden" name="cardToken" value="" /><label for="card"
      >Card</label
    ><iframe
      class="cardfield"
      id="card"
      name="card"
      title="Card number, expiry and security code, in the card processor's own frame"
      src="${form.cardFieldUrl}"
    ></iframe>
    <p class="wrong" data-card-wrong role="alert">${errors["cardToken"] ?? ""}</p>
    <noscript><p class="notice loss">The card field needs JavaScript. Everything else here works without.</p></noscript
    ><button class="go">${form.button} · ${formatMoney(form.amount.gross, form.currency)}</button>
    <p class="fine">The number goes to the card processor alone; we never see it.</p>
  </form>`;

/** The payment is under way elsewhere; the page asks again by itself. */
export const waitingBlock = (href: string): Html =>
  html`<div class="notice" role="status" data-again="1500">
    <p><strong>Your payment is being confirmed.</strong></p>
    <p>This page moves on by itself. <a href="${href}">Look again now</a></p>
  </div>`;

interface OfferForms {
  action: string;
  order: string;
  step: string;
  yes: string;
  amount: TaxedAmount;
  currency: string;
  productName: string;
  last4: string;
}

/** An offer after the payment: yes charges the stored card, no is a button of the same standing. */
export const offerForms = (form: OfferForms): Html => {
  const hidden = html`<input type="hidden" name="o" value="${form.order}" /><input type="hidden" name="step" value="${form.step}" />`;
  return html`<div class="block">
    <div class="price">${formatMoney(form.amount.gross, form.currency)}<small>${form.productName}, with tax</small></div>
    <form method="post" action="${form.action}" data-once>${hidden}<button class="go" name="decision" value="yes">${form.yes}</button></form>
    <p class="fine">One click charges your card ending in ${form.last4}. You will not be asked for it again.</p>
    <form method="post" action="${form.action}" data-once>${hidden}<button class="plain" name="decision" value="no">No, thank you</button></form>
  </div>`;
};

interface ReceiptView {
  number: number;
  lines: { name: string; gross: number; tax: number }[];
  currency: string;
  email: string;
  again: { href: string; label: string };
}

/** The receipt on the thank-you page. */
export const receipt = ({ number, lines, currency, email, again }: ReceiptView): Html => {
  const money = (minor: number) => formatMoney(minor, currency);
  const sum = (pick: (line: { gross: number; tax: number }) => number) => money(lines.reduce((total, line) => total + pick(line), 0));
  return html`<div class="block">
    <h2>Receipt, order ${number}</h2>
    <table>
      <tbody>
        ${lines.map(
          (line) =>
            html`<tr>
              <th scope="row">${line.name}</th>
              <td>${money(line.gross)}</td>
            </tr>`,
        )}
        <tr class="sum">
          <th scope="row">Paid</th>
          <td>${sum((l) => l.gross)}</td>
        </tr>
        <tr>
          <th scope="row">of it tax</th>
          <td>${sum((l) => l.tax)}</td>
        </tr>
      </tbody>
    </table>
    <p class="fine">Sent to ${email} as well.</p>
    <a class="plain" href="${again.href}">${again.label}</a>
  </div>`;
};
