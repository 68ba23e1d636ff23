import { formatMoney, type Locale } from "../core/money";
import type { BlockOf } from "../core/pages";
import { publicWords, taxName } from "../core/words";
import { cardFrame } from "./checkoutForms";
import type { Errors, OrderFacts } from "./facts";
import { small } from "./forms";
import { html, linked, type Html } from "./html";

/** It is paid already: the order stands first, and nothing asks for another. */
export const boughtBlock = ({ href, again }: Extract<OrderFacts, { step: "bought" }>, locale: Locale): Html => {
  const w = publicWords(locale).checkout;
  return html`<div class="notice" role="status" data-checkout>
    <p><strong>${w.boughtAlready}</strong></p>
    <p><a href="${href}">${w.openOrder}</a></p>
    <p class="fine">${linked(w.buyAgain, again)}</p>
  </div>`;
};

/** The payment is under way elsewhere; the page asks again by itself. */
export const waitingBlock = (href: string, locale: Locale): Html => {
  const w = publicWords(locale).checkout;
  return html`<div class="notice" role="status" data-checkout data-again="1500">
    <p><strong>${w.confirming}</strong></p>
    <p>${linked(w.movesOn, href)}</p>
  </div>`;
};

/** An offer after the payment: yes charges the stored card, no is a button of the same weight. Without a card that holds, another is asked for. */
export const offerForms = (form: Extract<OrderFacts, { step: "offer" }>, block: BlockOf<"offer">, errors: Errors, locale: Locale): Html => {
  const { offer: w, checkout } = publicWords(locale);
  const { yes, no, strike } = block;
  const hidden = html`<input type="hidden" name="o" value="${form.order}" /><input type="hidden" name="step" value="${form.stepId}" />`;
  const money = (minor: number) => formatMoney(minor, form.currency, locale);
  const total = form.amount.gross + (form.shipping ?? 0);
  const sending = form.shipping ? w.andShipping(money(form.shipping)) : undefined;
  // What is charged later stands before the press, as large as what is charged now is named.
  const first = html`${form.captureLater && html`<p><strong>${checkout.authorized}</strong></p>`}${form.recurring && html`<p><strong>${form.recurring}</strong></p>`}`;
  const also = form.byPress && html`<p class="fine">${form.byPress}</p>`;
  const press = form.last4
    ? form.sure === "now"
      ? html`<div class="notice" role="alert"><p><strong>${w.sure}</strong> ${(form.captureLater ? w.willAuthorize : w.willCharge)(money(total), form.last4)}</p></div>
            <form method="post" action="${form.action}" data-once>${hidden}<input type="hidden" name="sure" value="yes" /><button class="go" name="decision" value="yes">${(form.captureLater ? w.yesAuthorize : w.yesCharge)(money(total))}</button></form>`
      : html`<form method="post" action="${form.action}" data-once>${hidden}<button class="go" name="decision" value="yes">${yes}</button></form>
            <p class="fine">${form.sure ? w.askedAgain(form.last4) : (form.captureLater ? w.oneClickAuthorizes : w.oneClick)(form.last4)}</p>`
    : html`${form.signIn && html`<p class="fine">${linked(w.storedElsewhere, form.signIn)}</p>`}<form method="post" action="${form.action}" data-once data-card-form>${hidden}<input type="hidden" name="decision" value="yes" /><input type="hidden" name="sure" value="yes" /><input type="hidden" name="cardToken" value="" />${cardFrame(form.cardFieldUrl, locale)}<p class="wrong" data-card-wrong role="alert">${errors["cardToken"] ?? ""}</p>
            <noscript><p class="notice loss">${checkout.cardNeedsScript}</p></noscript><button class="go">${yes} · ${money(total)}</button></form>`;
  return html`<div class="box">${form.picture && html`<div class="offered">${small(form.picture)}</div>`}
    <div class="price">${strike && form.was !== undefined && html`<s>${money(form.was)}</s> `}${money(form.amount.gross)}<small>${form.recurring ? w.nowFor(form.productName) : form.productName}, ${form.reverse ? w.withoutTax : w.withTax(taxName(form.country, locale))}${sending}</small></div>
    ${first}${press}${also}
    <form method="post" action="${form.action}" data-once>${hidden}<button class="plain" name="decision" value="no">${no}</button></form>
  </div>`;
};

/** The receipt on the thank-you page. */
export const receipt = (
  {
    number,
    lines,
    currency,
    email,
    vatNumber,
    authorized,
    recurring,
    code,
    discount,
    action,
    order,
    country,
  }: Extract<OrderFacts, { step: "receipt" }>,
  locale: Locale,
): Html => {
  const { receipt: w, checkout } = publicWords(locale);
  const money = (minor: number) => formatMoney(minor, currency, locale);
  const sum = (pick: (line: { gross: number; tax: number }) => number) => money(lines.reduce((total, line) => total + pick(line), 0));
  return html`<div class="box">
    <h2>${w.title(number)}</h2>
    <table>
      <tbody>
        ${lines.map(
          (line) =>
            html`<tr>
              <th scope="row">${line.name}${line.contents && html`<br /><small>${line.contents}</small>`}</th>
              <td>${money(line.gross)}</td>
            </tr>`,
        )}
        ${
          code &&
          html`<tr>
          <th scope="row">${checkout.discount(code)}</th>
          <td>${discount ? w.beforeTax(money(-discount).replace("-", "−")) : w.nothingOff}</td>
        </tr>`
        }
        <tr class="sum">
          <th scope="row">${authorized > 0 ? w.total : w.paid}</th>
          <td>${sum((l) => l.gross)}</td>
        </tr>
        <tr>
          <th scope="row">${w.includedTax(taxName(country, locale))}</th>
          <td>${sum((l) => l.tax)}</td>
        </tr>
      </tbody>
    </table>
    ${authorized > 0 && html`<p class="fine">${w.authorized(money(authorized))}</p>`}
    ${recurring.map(
      ({ id, words, ends }) =>
        html`<p class="fine">${words}</p>${
          ends &&
          html`<form method="post" action="${action}" data-once><input type="hidden" name="o" value="${order}" /><input type="hidden" name="recurringPayment" value="${id}" /><button class="plain">${w.endPayments}</button></form>`
        }`,
    )}
    ${vatNumber && html`<p class="fine">${w.reverse(vatNumber)}</p>`}<p class="fine">${linked(w.sentTo(email), "/library")}</p>
  </div>`;
};
