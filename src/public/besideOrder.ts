import { formatMoney, type Locale } from "../core/money";
import { amountShown } from "../core/offers";
import type { BlockOf, BumpHole } from "../core/pages";
import { publicWords } from "../core/words";
import type { BumpFacts, Errors, PayFacts, Values } from "./facts";
import { aria, small, wrong } from "./forms";
import { html, type Html } from "./html";

/** A code, if the buyer has one: a form of its own, for its button must not pay. What is seen of it stands in the order form. */
export const couponForm = ({ coupon, checkout }: PayFacts, values: Values, errors: Errors, locale: Locale): { seen: Html; sent: Html } => {
  const w = publicWords(locale).checkout;
  const refusal = errors["code"] ?? coupon.refusal;
  const wrongs = { code: refusal };
  const form = html` form="coupon"`;
  const seen = coupon.code
    ? html`<input type="hidden" name="code" value=""${form} /><p class="fine"><button class="aslink"${form}>${w.removeCode(coupon.code)}</button></p>`
    : html`<details${refusal && html` open`}><summary>${w.haveCode}</summary><label
            >${w.code}<input type="text" name="code" autocomplete="off" maxlength="40" value="${(errors["code"] ? values["code"] : coupon.typed) ?? ""}"${form}${aria(wrongs, "code")} />${wrong(wrongs, "code")}</label
          ><button class="plain"${form}>${w.applyCode}</button></details>`;
  return {
    seen: html`<div class="code" data-sum="coupon">${seen}</div>`,
    sent: html`<form id="coupon" method="post" action="${coupon.action}" data-code novalidate><input type="hidden" name="checkout" value="${checkout}" /></form>`,
  };
};

/** What a bump adds. `form`: the form that it sends, where that stands elsewhere, as forms cannot stand in one another. */
const bumpInside = (block: BlockOf<"bump">, picture: string | undefined, bumps: BumpFacts, locale: Locale, form?: Html): Html | undefined => {
  const bump = block.product ? bumps.of[block.product] : undefined;
  if (!bump) return undefined;
  const { checkout, price: w } = publicWords(locale);
  const money = (minor: number) => formatMoney(minor, bumps.currency, locale);
  const price = money(amountShown(bump.amount, bumps.taxMode));
  return html`${small(picture ?? bump.picture)}<div>${block.heading && html`<h3>${block.heading}</h3>`}${block.words && html`<p>${block.words}</p>`}<label class="tick"
      ><input type="checkbox" name="tick" value="yes"${form} ${bump.ticked && html`checked`} /><span><strong>${block.tick}</strong> <span data-sum="bump">${bump.name}, ${block.strike && bump.was && html`<s>${money(bump.was)}</s> `}${price}${bumps.taxMode === "exclusive" && html` ${w.plusTaxShort}`}</span></span></label
    ><noscript><button class="plain"${form}>${checkout.changeOrder}</button></noscript></div>`;
};

const bumpSends = (block: BlockOf<"bump">, { checkout }: BumpFacts): Html =>
  html`<input type="hidden" name="checkout" value="${checkout}" /><input type="hidden" name="product" value="${block.product!}" />`;

/** A small addition to the order, with what it adds; its box is never ticked beforehand. It is a form of its own: without script its button sends it. */
export const bumpForm = (block: BlockOf<"bump">, picture: string | undefined, bumps: BumpFacts | undefined, locale: Locale): Html | undefined => {
  const inside = bumps && bumpInside(block, picture, bumps, locale);
  return inside && html`<form method="post" action="${bumps.action}" class="bump" data-bump>${inside}${bumpSends(block, bumps)}</form>`;
};

/** The same within the order form: what is seen, and the forms that it sends, which stand behind it. */
export const bumpsWithin = (holes: BumpHole[] = [], bumps: BumpFacts | undefined, locale: Locale): { seen: Html; sent: Html } => {
  const ready = holes.flatMap(({ block, picture, classes }) => {
    const id = `bump-${block.id}`;
    const inside = bumps && bumpInside(block, picture, bumps, locale, html` form="${id}"`);
    if (!inside) return [];
    const seen = html`<div class="b ${classes}" data-b="${block.id}"><div class="bump">${inside}</div></div>`;
    return [{ seen, sent: html`<form id="${id}" method="post" action="${bumps.action}" data-bump>${bumpSends(block, bumps)}</form>` }];
  });
  return { seen: html`${ready.map(({ seen }) => seen)}`, sent: html`${ready.map(({ sent }) => sent)}` };
};
