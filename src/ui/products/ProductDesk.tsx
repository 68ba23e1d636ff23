import { useEffect, useMemo, useState } from "react";
import * as products from "../../contract/products";
import * as core from "../../core/money";
import { priceWords, productKinds, productKindWords, taxClasses, type ProductRequest, type ProductRow } from "../../core/offers";
import type { Media } from "../../core/pages";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { formatAmount, formatMoney } from "../kit/data/numbers";
import { useReady } from "../kit/data/useReady";
import { EmptyState } from "../kit/EmptyState";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import { Pane } from "../kit/Pane";
import { RecordStatus } from "../kit/record/RecordStatus";
import { useRecord } from "../kit/record/useRecord";
import { DataTable, type DataColumn } from "../kit/table/DataTable";
import { keepInAddress } from "../kit/table/address";
import { MediaField } from "../pages/fields/MediaField";
import styles from "./products.module.css";
import { TermsFields } from "./TermsFields";

interface Props {
  products: ProductRow[];
  media: Media[];
  mayWrite: boolean;
  at?: string;
}

/** All that the vendor sells: what each product is, what it costs, where it stands, and what came of it. */
export const ProductDesk = ({ products: first, media: uploads, mayWrite, at }: Props) => {
  const ready = useReady();
  const [products, setProducts] = useState(first);
  const [selected, setSelected] = useState(at ?? first[0]?.id);
  const [media, setMedia] = useState(uploads);
  useEffect(() => {
    if (selected) keepInAddress("at", selected);
  }, [selected]);
  const columns = useMemo<DataColumn<ProductRow>[]>(
    () => [
      {
        id: "product",
        title: "Product",
        value: ({ name, privateLabel }) => `${name}, ${privateLabel}`,
        cell: ({ id, name, privateLabel, onSale }) => (
          <>
            <button type="button" className={styles.name} aria-pressed={id === selected} onClick={() => setSelected(id)}>
              {name}
            </button>
            <span className="muted">
              {privateLabel}
              {!onSale && <b className={styles.off}> not on sale</b>}
            </span>
          </>
        ),
      },
      {
        id: "uses",
        title: "Used as",
        value: ({ uses }) => uses.join("; "),
        cell: ({ uses }) => (uses.length > 0 ? uses.map((use) => <div key={use}>{use}</div>) : <span className="muted">nowhere yet</span>),
      },
      {
        id: "price",
        title: "Price",
        figure: true,
        value: ({ priceMinor }) => priceMinor,
        file: ({ priceMinor, currency }) => `${core.formatAmount(priceMinor, currency)} ${currency}`,
        cell: (one) => (
          <>
            {priceWords(one.terms, one.priceMinor, one.currency)}
            <br />
            <span className="muted">{one.taxMode === "inclusive" ? "tax included" : "plus tax"}</span>
          </>
        ),
      },
      { id: "sold", title: "Sold", figure: true, value: ({ sold }) => sold, cell: ({ sold }) => sold.toLocaleString("en") },
      {
        id: "revenue",
        title: "Revenue",
        figure: true,
        value: ({ grossMinor }) => grossMinor,
        file: ({ grossMinor, currency }) => `${core.formatAmount(grossMinor, currency)} ${currency}`,
        cell: ({ grossMinor, currency }) => formatMoney(grossMinor, currency),
      },
    ],
    [selected],
  );
  if (products.length === 0)
    return (
      <EmptyState title="Products will stand here" says="A launch begins with its main product; bumps and offers make theirs where they are laid." />
    );
  const product = products.find(({ id }) => id === selected);
  return (
    <div inert={!ready} className={styles.desk}>
      <div style={{ minWidth: 0 }}>
        <DataTable name="Products" of={["product", "products"]} rows={products} rowKey={({ id }) => id} columns={columns} empty={null} findFrom={2} />
      </div>
      {product && (
        <ProductPane
          key={product.id}
          product={product}
          others={products.filter(({ id, kind }) => id !== product.id && kind !== "bundle")}
          mayWrite={mayWrite}
          media={media}
          onMedia={(one) => setMedia((all) => [one, ...all.filter(({ id }) => id !== one.id)])}
          onSaved={(saved) => setProducts((all) => all.map((one) => (one.id === saved.id ? saved : one)))}
        />
      )}
    </div>
  );
};

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
const ProductPane = ({ product, others, mayWrite, media, onMedia, onSaved }: PaneProps) => {
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
      <RecordStatus record={record} untouched="Changes are saved as you make them." />
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

/** The same thing at another price, for the next offer or a downsell. */
const CopyProduct = ({ product }: { product: ProductRow }) => {
  const [typed, setTyped] = useState({ name: "", price: "" });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const copy = async () => {
    const answer = await call(products.copyProduct, { params: { id: product.id }, request: typed });
    if (answer.ok) return location.assign(`/desk/products?at=${answer.value.id}`);
    setWrong(Object.keys(answer.fields).length > 0 ? answer.fields : { name: answer.message });
  };
  return (
    <details className={styles.copy}>
      <summary>Copy at another price</summary>
      <Field
        label="Name of the copy"
        value={typed.name}
        wrong={wrong["name"]}
        onChange={(event) => setTyped({ ...typed, name: event.currentTarget.value })}
      />
      <Field
        label={`The copy's price, ${product.currency}`}
        inputMode="decimal"
        value={typed.price}
        wrong={wrong["price"]}
        onChange={(event) => setTyped({ ...typed, price: event.currentTarget.value })}
      />
      <p style={{ marginTop: 10 }}>
        <Button onClick={() => void copy()}>Copy the product</Button>
      </p>
    </details>
  );
};
