import * as products from "../../contract/products";
import * as core from "../../core/money";
import { productKinds, productKindWords, taxClasses, type ProductRequest, type ProductRow } from "../../core/offers";
import type { Media } from "../../core/pages";
import { call } from "../kit/data/call";
import { formatAmount, formatMoney } from "../kit/data/numbers";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import { say } from "../kit/notices";
import { Pane } from "../kit/Pane";
import { RecordStatus } from "../kit/record/RecordStatus";
import { useRecord } from "../kit/record/useRecord";
import { MediaField } from "../pages/fields/MediaField";
import { CopyProduct } from "./CopyProduct";
import styles from "./products.module.css";
import { TermsFields } from "./TermsFields";

interface PaneProps {
  product: ProductRow;
  /** What a bundle may hold. */
  others: ProductRow[];
  mayWrite: boolean;
  media: Media[];
  onMedia: (media: Media) => void;
  onSaved: (product: ProductRow) => void;
}

type Typed = Omit<ProductRequest, "version" | "limitPerPerson" | "seats" | "refundDays"> & {
  limitPerPerson: string;
  seats: string;
  refundDays: string;
};
const typedOf = (product: ProductRow): Typed => {
  const { name, privateLabel, description, kind, taxClass, taxMode, alone, onSale, accessAtOnce, terms, mediaId, chargeWhen, contents } = product;
  return {
    name,
    privateLabel,
    description,
    kind,
    taxClass,
    taxMode,
    alone,
    onSale,
    accessAtOnce,
    terms,
    mediaId,
    chargeWhen,
    contents,
    price: formatAmount(product.priceMinor, product.currency),
    prices: pricesTyped(product),
    limitPerPerson: String(product.limitPerPerson ?? ""),
    seats: String(product.seats ?? ""),
    refundDays: String(product.refundDays),
  };
};
/** Prices in other currencies, as they are typed; every currency that can be sold in has a field. */
const pricesTyped = ({ prices, currency }: ProductRow): Record<string, string> =>
  Object.fromEntries(
    core.currencies.filter((code) => code !== currency).map((code) => [code, prices[code] === undefined ? "" : formatAmount(prices[code], code)]),
  );
const whole = (typed: string): number | null => (typed.trim() === "" ? null : Number(typed));

/** One product. What is chosen is saved at once, what is typed when its field is left: a price half typed is never asked of anybody. */
export const ProductPane = ({ product, others, mayWrite, media, onMedia, onSaved }: PaneProps) => {
  const record = useRecord<Typed>({
    first: typedOf(product),
    version: product.version,
    save: async (typed, version, leaving) => {
      const { price, prices, ...now } = typed;
      const next = {
        ...now,
        refundDays: whole(typed.refundDays) ?? Number.NaN,
        limitPerPerson: whole(typed.limitPerPerson),
        seats: whole(typed.seats),
      };
      const answer = await call(products.saveProduct, { params: { id: product.id }, request: { ...next, version, price, prices }, leaving });
      if (answer.ok) onSaved({ ...product, ...next, ...answer.value });
      return answer;
    },
  });
  const readTheirs = async () => {
    const answer = await call(products.readProduct, { params: { id: product.id } });
    if (!answer.ok) return void say(answer.message, true);
    return { content: typedOf(answer.value), version: answer.value.version };
  };
  const { content: typed, fields: wrong, settle } = record;
  const choose = (change: Partial<Typed>) => record.change((now) => ({ ...now, ...change }));
  const type = (change: Partial<Typed>, key: string) => record.change((now) => ({ ...now, ...change }), key);
  const text = (field: "name" | "privateLabel" | "price" | "refundDays" | "limitPerPerson" | "seats", label: string, hint?: string) => (
    <Field
      label={label}
      hint={hint}
      value={typed[field]}
      wrong={wrong[field]}
      inputMode={field === "price" ? "decimal" : field === "name" || field === "privateLabel" ? undefined : "numeric"}
      onChange={(event) => type({ [field]: event.currentTarget.value }, field)}
      onBlur={settle}
    />
  );
  return (
    <Pane title={product.name}>
      <RecordStatus record={record} untouched="Changes are saved as you make them." readTheirs={readTheirs} />
      <p className="muted">
        {product.sold.toLocaleString("en")} sold, {formatMoney(product.grossMinor, product.currency)}
      </p>
      <div inert={!mayWrite}>
        {text("name", "Name, as the buyer reads it")}
        {text("privateLabel", "Private label, for the desk")}
        <Field
          label="Description"
          rows={3}
          value={typed.description}
          wrong={wrong["description"]}
          onChange={(event) => type({ description: event.currentTarget.value }, "description")}
          onBlur={settle}
        />
        <Select
          label="Type"
          value={typed.kind}
          options={productKinds.map((value) => ({ value, label: productKindWords[value] }))}
          onChange={(picked) => choose({ kind: picked })}
        />
        {typed.kind === "bundle" && (
          <fieldset className={styles.contents} aria-describedby={wrong["contents"] ? "contents-wrong" : undefined}>
            <legend>Contents</legend>
            {others.map(({ id, name }) => (
              <label key={id} className={styles.tick}>
                <input
                  type="checkbox"
                  checked={typed.contents.includes(id)}
                  onChange={(event) =>
                    choose({ contents: event.currentTarget.checked ? [...typed.contents, id] : typed.contents.filter((held) => held !== id) })
                  }
                />
                <span>{name}</span>
              </label>
            ))}
            {wrong["contents"] && (
              <p id="contents-wrong" role="alert">
                {wrong["contents"]}
              </p>
            )}
          </fieldset>
        )}
        {typed.kind === "shipped" && (
          <Select
            label="The card is charged"
            value={typed.chargeWhen}
            options={[
              { value: "at_once", label: "at once" },
              { value: "when_sent", label: "when it is sent; authorized until then" },
            ]}
            onChange={(picked) => choose({ chargeWhen: picked })}
          />
        )}
        <MediaField
          label="Picture"
          kind="picture"
          value={typed.mediaId}
          all={media}
          wrong={wrong["mediaId"]}
          onChange={(mediaId) => choose({ mediaId })}
          onMedia={onMedia}
        />
        {text("price", `Price, ${product.currency}`)}
        <TermsFields
          key={typed.terms.kind}
          terms={typed.terms}
          minor={product.priceMinor}
          currency={product.currency}
          others={Object.keys(product.prices)}
          wrong={wrong}
          onChange={(terms, settled) => (settled ? choose({ terms }) : type({ terms }, "terms"))}
          onSettle={settle}
        />
        <details className={styles.copy} open={Object.keys(product.prices).length > 0}>
          <summary>Prices in other currencies</summary>
          <p className="muted">Buyers choose among those that have one. What is added to it costs in proportion.</p>
          {Object.keys(typed.prices).map((code) => (
            <Field
              key={code}
              label={code}
              inputMode="decimal"
              placeholder="not sold in it"
              value={typed.prices[code]}
              wrong={wrong[`prices.${code}`]}
              onChange={(event) => type({ prices: { ...typed.prices, [code]: event.currentTarget.value } }, `prices.${code}`)}
              onBlur={settle}
            />
          ))}
        </details>
        <Select
          label="Tax"
          value={typed.taxMode}
          options={[
            { value: "inclusive", label: "included in the price" },
            { value: "exclusive", label: "added to the price" },
          ]}
          onChange={(picked) => choose({ taxMode: picked })}
        />
        <Select
          label="Tax class"
          value={typed.taxClass}
          options={taxClasses.filter((value) => value !== "shipping").map((value) => ({ value, label: value }))}
          onChange={(picked) => choose({ taxClass: picked })}
        />
        {text("refundDays", "Refund window, days")}
        {text("limitPerPerson", "At most, for one person", "Empty: as often as they like.")}
        {text("seats", "At most, in all", "Empty: any number. Counted at the payment, never oversold.")}
        <label className={styles.tick}>
          <input type="checkbox" checked={typed.onSale} onChange={(event) => choose({ onSale: event.currentTarget.checked })} />
          <span>On sale. Otherwise checkouts refuse it, and paths pass it over.</span>
        </label>
        {(typed.kind === "download" || typed.kind === "library" || typed.kind === "bundle") && (
          <label className={styles.tick}>
            <input type="checkbox" checked={typed.accessAtOnce} onChange={(event) => choose({ accessAtOnce: event.currentTarget.checked })} />
            <span>
              Buyers get access at once, by a way of your own (a member site, an email you send). Nothing is delivered by itself yet: without this the
              checkout asks nobody to give up their right of withdrawal.
            </span>
          </label>
        )}
        <label className={styles.tick}>
          <input type="checkbox" checked={typed.alone} onChange={(event) => choose({ alone: event.currentTarget.checked })} />
          <span>Bought alone: its checkout has no bumps.</span>
        </label>
        <CopyProduct product={product} />
      </div>
    </Pane>
  );
};
