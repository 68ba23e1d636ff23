import { clockTime } from "../core/launch";
import { countryName, countryNames } from "../core/people";
import { formatAmount, formatBasisPoints, formatMoney } from "../core/money";
import { amountShown, authorizedWords, mustTick, totalOf, waiverWords, type TaxedAmount } from "../core/offers";
import type { BlockOf, BumpHole } from "../core/pages";
import type { BumpFacts, Errors, OrderFacts, PayFacts, Values, KnownBuyer, Region } from "./facts";
import { aria, field, small, wrong } from "./forms";
import { html, type Html } from "./html";

/** Who buys, and from where. `live`: the sums follow the country while it is chosen. */
const buyerFields = (values: Values, errors: Errors, live = false, known?: KnownBuyer): Html =>
  html`${known && ("as" in known ? html`<p class="fine">Signed in as ${known.as}. <a href="/library">Your library</a></p>` : html`<p class="fine">Bought here before? <a href="${known.signIn}">Sign in</a>, and your address and card are here already.</p>`)}${field("email", "Email", "email", "email", values, errors)}${field("firstName", "First name", "text", "given-name", values, errors)}<label
      >Country<select name="country" autocomplete="country" required${live && html` data-live`}${aria(errors, "country")}>
        <option value="">Choose</option>
        ${Object.entries(countryNames()).map(([code, name]) => html`<option value="${code}" ${values["country"] === code ? html` selected` : undefined}>${name}</option>`)}</select
      >${wrong(errors, "country")}</label
    ><details class="more"${(values["vatNumber"] || errors["vatNumber"]) && html` open`}><summary>Buying for a business?</summary><label
      >VAT number<input type="text" name="vatNumber" autocomplete="off" value="${values["vatNumber"] ?? ""}" maxlength="20"${live && html` data-live`}${aria(errors, "vatNumber")} />${wrong(errors, "vatNumber")}<small>We check the digits, not whether it is registered: give your own.</small></label></details>`;

/** First step of the checkout: who buys, and from where. */
export const checkoutStartForm = (
  { action, of, sells, known }: Extract<OrderFacts, { step: "start" }>,
  button: string,
  values: Values,
  errors: Errors,
): Html =>
  html`<form method="post" action="${action}" class="box" data-once data-checkout novalidate>
    ${sells && html`<p><strong>${sells}</strong></p>`}${of && html`<input type="hidden" name="of" value="${of}" />`}${buyerFields(values, errors, false, known)}<button class="go">${button}</button>
    <p class="fine">Nothing is charged yet. The next step shows the total with tax.</p>
  </form>`;

const totals = ({ lines, currency, taxMode, coupon, recurring, captureLater }: PayFacts): Html => {
  const money = (minor: number) => formatMoney(minor, currency);
  const amount = totalOf(lines.map((line) => line.amount));
  // Lines of several rates are summed; the rate is named where there is one.
  const rates = [...new Set(lines.map((line) => line.amount.rateBp))];
  const shown = (one: TaxedAmount) => amountShown(one, taxMode);
  // The prices stand as they are without a code, and what it takes off below them.
  const off = lines.reduce((sum, { amount: now, before = now }) => sum + shown(before) - shown(now), 0);
  const rate = rates.map((bp) => formatBasisPoints(bp)).join(" and ");
  return html`<table data-sum="table">
    <tbody>
      ${lines.map(
        (line) => html`<tr>
          <th scope="row">${line.name}${line.contents && html`<br /><small>${line.contents}</small>`}</th>
          <td>${money(shown(line.before ?? line.amount))}</td>
        </tr>`,
      )}
      ${
        off > 0 &&
        html`<tr>
          <th scope="row">With the code ${coupon.code}</th>
          <td>−${money(off)}</td>
        </tr>`
      }
      ${
        taxMode === "exclusive"
          ? html`<tr>
              <th scope="row">Tax, ${rate}</th>
              <td>${money(amount.tax)}</td>
            </tr>`
          : undefined
      }
      <tr class="sum">
        <th scope="row">${recurring.length > 0 ? "To pay now" : "To pay"}</th>
        <td>${money(amount.gross)}</td>
      </tr>
      ${[...(captureLater ? [authorizedWords] : []), ...recurring].map(
        (words) => html`<tr>
          <td colspan="2" class="less">${words}</td>
        </tr>`,
      )}
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

/** What is agreed to before the press; the boxes are never ticked beforehand, and as they were left where the form comes back. Always there, for its sums may be replaced. */
const recurringPayments = ({ waiver, terms }: PayFacts, values: Values, errors: Errors): Html =>
  html`<div data-sum="agree">${
    waiver &&
    html`<label class="tick"><input type="checkbox" name="waiver" value="yes" ${values["waiver"] === "yes" && html`checked`} data-must="${mustTick.waiver}"${aria(errors, "waiver")} /><span>${waiverWords}</span></label>${wrong(errors, "waiver")}`
  }${
    terms &&
    html`<label class="tick"><input type="checkbox" name="terms" value="yes" ${values["terms"] === "yes" && html`checked`} data-must="${mustTick.terms}"${aria(errors, "terms")} /><span>I agree to the <a href="${terms}" target="_blank" rel="noopener">terms</a>.</span></label>${wrong(errors, "terms")}`
  }</div>`;

/** Where in the country: asked where a region has a rate of its own. */
const regionField = (regions: Region[], live = false): Html =>
  html`<label>Region<select name="region"${live && html` data-live`}><option value="">Anywhere else</option>${regions.map(({ code, name, chosen }) => html`<option value="${code}"${chosen && html` selected`}>${name}</option>`)}</select></label>`;

/** How much, how many, in which currency: a form of its own, which sends itself where there is script. */
export const choiceForm = ({ choice, checkout, currency }: PayFacts, values: Values, errors: Errors): Html | undefined => {
  if (!choice || Object.keys(choice).length < 2) return undefined;
  const { action, quantity, named, currencies, regions } = choice;
  const typed = (minor: number) => formatAmount(minor, currency);
  return html`<form method="post" action="${action}" class="box choice" data-bump novalidate>
    <input type="hidden" name="checkout" value="${checkout}" />${
      quantity !== undefined &&
      html`<label>How many<input type="number" name="quantity" min="1" max="10000" value="${errors["quantity"] ? (values["quantity"] ?? "") : quantity}"${aria(errors, "quantity")} />${wrong(errors, "quantity")}</label>`
    }${
      named &&
      html`<label>What you want to give, ${currency}${named.least > 0 && html` <small>(${formatMoney(named.least, currency)} at least)</small>`}<input type="text" inputmode="decimal" name="named" value="${errors["named"] ? (values["named"] ?? "") : typed(named.minor)}"${aria(errors, "named")} />${wrong(errors, "named")}</label>`
    }${
      currencies &&
      html`<label>Pay in<select name="currency"${aria(errors, "currency")}>${currencies.map((code) => html`<option value="${code}"${code === currency && html` selected`}>${code}</option>`)}</select>${wrong(errors, "currency")}</label>`
    }${regions && regionField(regions)}<noscript><button class="plain">Change the order</button></noscript>
  </form>`;
};

const cardFrame = (src: string): Html =>
  html`<label for="card">Card</label><iframe
      class="cardfield"
      id="card"
      name="card"
      title="Card number, expiry and security code, in the card processor's own frame"
      src="${src}"
    ></iframe>`;

/** The end of an order form: the card, or the one that is known, or none; and the press that pays. */
const paying = (form: PayFacts, button: string, errors: Errors): Html => {
  const total = totalOf(form.lines.map((line) => line.amount)).gross;
  const press = `${button} · ${formatMoney(total, form.currency)}`;
  const wrongCard = html`<p class="wrong" data-card-wrong role="alert">${errors["cardToken"] ?? ""}</p>`;
  if (form.free)
    return html`<input type="hidden" name="cardToken" value="none" />${wrongCard}<button class="go" data-sum="button">${press}</button>
      <p class="fine">There is nothing to pay, so no card is asked for.</p>`;
  const other = html`<input type="hidden" name="cardToken" value="" />${cardFrame(form.cardFieldUrl)}
    ${wrongCard}
    <noscript><p class="notice loss">The card field needs JavaScript. Everything else here works without.</p></noscript
    ><button class="${form.stored ? "plain" : "go"}" data-sum="button">${press}</button>
    <p class="fine">The number goes to the card processor alone; we never see it.</p>`;
  if (!form.stored) return other;
  return html`<button class="go" name="stored" value="yes" data-stored data-sum="button">${press} <small>with the card ending in ${form.stored.last4}</small></button>
    <details class="more"${errors["cardToken"] && html` open`}><summary>Use another card</summary>${other}</details>`;
};

const priceHoldNote = ({ priceHoldUntil, zone }: { priceHoldUntil?: Date; zone: string }): Html | undefined =>
  priceHoldUntil && html`<p class="fine">This price is held for you until ${clockTime(priceHoldUntil, zone)}, whatever it does meanwhile.</p>`;

/** What an order form is written with: the words of its button, what was typed and is wrong, and what stands in it and sends a form of its own. */
export interface Written {
  button: string;
  values: Values;
  errors: Errors;
  zone: string;
  bumps?: Html;
  coupon?: Html;
}

/** Second step: the total with tax, and the card in the processor's own frame. */
export const payForm = (form: Extract<OrderFacts, { step: "pay" }>, { button, errors, zone, bumps, coupon }: Written): Html => {
  const values = form.kept;
  const total = totalOf(form.lines.map((line) => line.amount)).gross;
  return html`<form method="post" action="${form.action}" class="box" data-once data-checkout data-card-form novalidate>
    ${totals(form)}${coupon}${priceHoldNote({ ...form, zone })}
    ${form.reverse && html`<p class="fine">No tax is charged: your business accounts for it (reverse charge).</p>`}<p class="who">
      <span>${values["firstName"] ?? ""}, ${values["email"] ?? ""}, ${countryName(values["country"] ?? "")}</span
      ><a href="${form.editHref}">Change</a>
    </p>
    <input type="hidden" name="shown" value="${total}" data-sum="shown" /><input type="hidden" name="checkout" value="${form.checkout}" /><input type="hidden" name="email" value="${values["email"] ?? ""}" /><input
      type="hidden"
      name="firstName"
      value="${values["firstName"] ?? ""}"
    /><input type="hidden" name="country" value="${values["country"] ?? ""}" />${bumps}${recurringPayments(form, values, errors)}${paying(form, button, errors)}
  </form>`;
};

/** All of it on one page: who buys, the total, which follows the country, and the card. */
export const oneStepForm = (form: Extract<OrderFacts, { step: "one" }>, { button, values, errors, zone, bumps, coupon }: Written): Html => {
  const total = totalOf(form.lines.map((line) => line.amount)).gross;
  return html`<form method="post" action="${form.action}" class="box" data-once data-checkout data-card-form novalidate>
    ${form.of && html`<input type="hidden" name="of" value="${form.of}" />`}${buyerFields({ ...form.kept, ...values }, errors, true, form.known)}<div data-sum="region">${form.choice?.regions && regionField(form.choice.regions, true)}</div>${totals(form)}${coupon}${priceHoldNote({ ...form, zone })}
    <input type="hidden" name="shown" value="${total}" data-sum="shown" /><input type="hidden" name="checkout" value="${form.checkout}" />${bumps}${recurringPayments(form, values, errors)}${paying(form, button, errors)}
  </form>`;
};

/** A code, if the buyer has one: a form of its own, for its button must not pay. What is seen of it stands in the order form. */
export const couponForm = ({ coupon, checkout }: PayFacts, values: Values, errors: Errors): { seen: Html; sent: Html } => {
  const refusal = errors["code"] ?? coupon.refusal;
  const wrongs = { code: refusal };
  const form = html` form="coupon"`;
  const seen = coupon.code
    ? html`<input type="hidden" name="code" value=""${form} /><p class="fine"><button class="aslink"${form}>Do without the code ${coupon.code}</button></p>`
    : html`<details${refusal && html` open`}><summary>Have a code?</summary><label
            >Code<input type="text" name="code" autocomplete="off" maxlength="40" value="${(errors["code"] ? values["code"] : coupon.typed) ?? ""}"${form}${aria(wrongs, "code")} />${wrong(wrongs, "code")}</label
          ><button class="plain"${form}>Use this code</button></details>`;
  return {
    seen: html`<div class="code" data-sum="coupon">${seen}</div>`,
    sent: html`<form id="coupon" method="post" action="${coupon.action}" data-code novalidate><input type="hidden" name="checkout" value="${checkout}" /></form>`,
  };
};

/** What a bump adds. `form`: the form that it sends, where that stands elsewhere, as forms cannot stand in one another. */
const bumpInside = (block: BlockOf<"bump">, picture: string | undefined, bumps: BumpFacts, form?: Html): Html | undefined => {
  const bump = block.product ? bumps.of[block.product] : undefined;
  if (!bump) return undefined;
  const price = formatMoney(amountShown(bump.amount, bumps.taxMode), bumps.currency);
  return html`${small(picture ?? bump.picture)}<div>${block.heading && html`<h3>${block.heading}</h3>`}${block.words && html`<p>${block.words}</p>`}<label class="tick"
      ><input type="checkbox" name="tick" value="yes"${form} ${bump.ticked && html`checked`} /><span><strong>${block.tick}</strong> <span data-sum="bump">${bump.name}, ${block.strike && bump.was && html`<s>${formatMoney(bump.was, bumps.currency)}</s> `}${price}${bumps.taxMode === "exclusive" && html` plus tax`}</span></span></label
    ><noscript><button class="plain"${form}>Change the order</button></noscript></div>`;
};

const bumpSends = (block: BlockOf<"bump">, { checkout }: BumpFacts): Html =>
  html`<input type="hidden" name="checkout" value="${checkout}" /><input type="hidden" name="product" value="${block.product!}" />`;

/** A small addition to the order, with what it adds; its box is never ticked beforehand. It is a form of its own: without script its button sends it. */
export const bumpForm = (block: BlockOf<"bump">, picture: string | undefined, bumps: BumpFacts | undefined): Html | undefined => {
  const inside = bumps && bumpInside(block, picture, bumps);
  return inside && html`<form method="post" action="${bumps.action}" class="bump" data-bump>${inside}${bumpSends(block, bumps)}</form>`;
};

/** The same within the order form: what is seen, and the forms that it sends, which stand behind it. */
export const bumpsWithin = (holes: BumpHole[] = [], bumps: BumpFacts | undefined): { seen: Html; sent: Html } => {
  const ready = holes.flatMap(({ block, picture, classes }) => {
    const id = `bump-${block.id}`;
    const inside = bumps && bumpInside(block, picture, bumps, html` form="${id}"`);
    if (!inside) return [];
    const seen = html`<div class="b ${classes}" data-b="${block.id}"><div class="bump">${inside}</div></div>`;
    return [{ seen, sent: html`<form id="${id}" method="post" action="${bumps.action}" data-bump>${bumpSends(block, bumps)}</form>` }];
  });
  return { seen: html`${ready.map(({ seen }) => seen)}`, sent: html`${ready.map(({ sent }) => sent)}` };
};

/** It is paid already: the order stands first, and nothing asks for another. */
export const boughtBlock = ({ href, again }: Extract<OrderFacts, { step: "bought" }>): Html =>
  html`<div class="notice" role="status" data-checkout>
    <p><strong>You have bought this already.</strong></p>
    <p><a href="${href}">Open your order</a></p>
    <p class="fine">For somebody else, or once more? <a href="${again}">Begin another order</a>; it is charged again.</p>
  </div>`;

/** The payment is under way elsewhere; the page asks again by itself. */
export const waitingBlock = (href: string): Html =>
  html`<div class="notice" role="status" data-checkout data-again="1500">
    <p><strong>Your payment is being confirmed.</strong></p>
    <p>This page moves on by itself. <a href="${href}">Look again now</a></p>
  </div>`;

/** An offer after the payment: yes charges the stored card, no is a button of the same weight. Without a card that holds, another is asked for. */
export const offerForms = (form: Extract<OrderFacts, { step: "offer" }>, block: BlockOf<"offer">, errors: Errors): Html => {
  const { yes, no, strike } = block;
  const hidden = html`<input type="hidden" name="o" value="${form.order}" /><input type="hidden" name="step" value="${form.stepId}" />`;
  const money = (minor: number) => formatMoney(minor, form.currency);
  const total = form.amount.gross + (form.shipping ?? 0);
  const sending = form.shipping ? html`, and ${money(form.shipping)} for sending it` : undefined;
  // What is charged later stands before the press, as large as what is charged now is named.
  const first = html`${form.captureLater && html`<p><strong>${authorizedWords}</strong></p>`}${form.recurring && html`<p><strong>${form.recurring}</strong></p>`}`;
  const does = form.captureLater ? "holds it on" : "charges";
  const also = form.byPress && html`<p class="fine">${form.byPress}</p>`;
  const press = form.last4
    ? form.sure === "now"
      ? html`<div class="notice" role="alert"><p><strong>Are you sure?</strong> ${money(total)} will be ${form.captureLater ? "held on" : "charged to"} your card ending in ${form.last4}.</p></div>
            <form method="post" action="${form.action}" data-once>${hidden}<input type="hidden" name="sure" value="yes" /><button class="go" name="decision" value="yes">Yes, ${form.captureLater ? "hold" : "charge"} ${money(total)}</button></form>`
      : html`<form method="post" action="${form.action}" data-once>${hidden}<button class="go" name="decision" value="yes">${yes}</button></form>
            <p class="fine">${form.sure ? `You are asked once more before your card ending in ${form.last4} is ${form.captureLater ? "asked" : "charged"}.` : `One click ${does} your card ending in ${form.last4}. You will not be asked for it again.`}</p>`
    : html`${form.signIn && html`<p class="fine">Your stored card is offered in your own browser alone. <a href="${form.signIn}">Show that it is you</a>, or give a card here.</p>`}<form method="post" action="${form.action}" data-once data-card-form>${hidden}<input type="hidden" name="decision" value="yes" /><input type="hidden" name="sure" value="yes" /><input type="hidden" name="cardToken" value="" />${cardFrame(form.cardFieldUrl)}<p class="wrong" data-card-wrong role="alert">${errors["cardToken"] ?? ""}</p>
            <noscript><p class="notice loss">The card field needs JavaScript. Everything else here works without.</p></noscript><button class="go">${yes} · ${money(total)}</button></form>`;
  return html`<div class="box">${form.picture && html`<div class="offered">${small(form.picture)}</div>`}
    <div class="price">${strike && form.was !== undefined && html`<s>${money(form.was)}</s> `}${money(form.amount.gross)}<small>${form.recurring ? `now for ${form.productName}` : form.productName}, ${form.reverse ? "without tax: your business accounts for it" : "with tax"}${sending}</small></div>
    ${first}${press}${also}
    <form method="post" action="${form.action}" data-once>${hidden}<button class="plain" name="decision" value="no">${no}</button></form>
  </div>`;
};

/** The receipt on the thank-you page. */
export const receipt = ({
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
}: Extract<OrderFacts, { step: "receipt" }>): Html => {
  const money = (minor: number) => formatMoney(minor, currency);
  const sum = (pick: (line: { gross: number; tax: number }) => number) => money(lines.reduce((total, line) => total + pick(line), 0));
  return html`<div class="box">
    <h2>Receipt, order ${number}</h2>
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
          <th scope="row">With the code ${code}</th>
          <td>${discount ? `${money(-discount).replace("-", "−")} before tax` : "nothing off"}</td>
        </tr>`
        }
        <tr class="sum">
          <th scope="row">${authorized > 0 ? "In all" : "Paid"}</th>
          <td>${sum((l) => l.gross)}</td>
        </tr>
        <tr>
          <th scope="row">of it tax</th>
          <td>${sum((l) => l.tax)}</td>
        </tr>
      </tbody>
    </table>
    ${authorized > 0 && html`<p class="fine">${money(authorized)} of it: ${authorizedWords.replace("It", "it")}</p>`}
    ${recurring.map(
      ({ id, words, ends }) =>
        html`<p class="fine">${words}</p>${
          ends &&
          html`<form method="post" action="${action}" data-once><input type="hidden" name="o" value="${order}" /><input type="hidden" name="recurringPayment" value="${id}" /><button class="plain">End these payments</button></form>`
        }`,
    )}
    ${vatNumber && html`<p class="fine">Reverse charge: ${vatNumber} accounts for the tax.</p>`}<p class="fine">Sent to ${email} as well. All your orders stand in <a href="/library">your library</a>.</p>
  </div>`;
};
