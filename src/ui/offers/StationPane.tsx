import { say } from "../kit/notices";
import * as products from "../../contract/products";
import { formatAmount } from "../kit/data/numbers";
import { useState } from "react";
import { isEnd, moveEarlier, moveLater, pathEnd, stepKinds, type PathStep, type PriceTerms } from "../../core/offers";
import type { OfferedPage, OfferedProduct, OffersView } from "../../core/pages";
import { findBlock, insertBlock, newBlock, pageLeaves, removeBlock, updateBlock, type Block, type Media } from "../../core/pages";
import { Field } from "../kit/fields/Field";
import { Pane } from "../kit/Pane";
import { Select } from "../kit/fields/Select";
import { call } from "../kit/data/call";
import { newId } from "../pages/editor/editing";
import { MediaField } from "../pages/fields/MediaField";
import { useDraft } from "../pages/editor/useDraft";
import { TermsFields } from "../products/TermsFields";
import { Findings } from "./Findings";
import styles from "./offers.module.css";
import { PagePublishing } from "./PagePublishing";

/** What changes the path: the same words as the server's. */
export type PathChange =
  | { do: "remove" | "earlier" | "later"; step: string }
  | { do: "lead"; step: string; rail: "yes" | "no"; to: string }
  | { do: "set"; step: string; change: Partial<Pick<PathStep, "kind" | "sure" | "productId" | "pageId">> };

interface Props {
  view: OffersView;
  step: PathStep;
  slug: string;
  mayWrite: boolean;
  media: Media[];
  onMedia: (media: Media) => void;
  /** Begins a cheaper step like this one, on its no rail. */
  onCopy: () => void;
  change: (change: PathChange) => Promise<Record<string, string> | undefined>;
  /** Reads everything anew, after a price or a page was changed. */
  refresh: () => Promise<void>;
}

/** All of one step in one place: what is sold and for how much, its page and the words of its buttons, how the card is charged, and where its rails lead. */
export const StationPane = ({ view, step, slug, mayWrite, media, onMedia, onCopy, change, refresh }: Props) => {
  const product = view.products.find(({ id }) => id === step.productId);
  const page = view.pages.find(({ id }) => id === step.pageId);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const act = async (one: PathChange) => setWrong((await change(one)) ?? {});
  const nameOf = (id: string) =>
    view.products.find((one) => one.id === view.path.steps.find((other) => other.id === id)?.productId)?.name ?? "a step";
  const taken = new Set(view.path.steps.map(({ pageId }) => pageId));
  const targets = [
    ...view.path.steps.filter(({ id }) => id !== step.id).map(({ id }) => ({ value: id, label: nameOf(id) })),
    { value: pathEnd, label: "the thank-you page" },
    ...view.ends.slice(1).map(({ id, name }) => ({ value: `${pathEnd}:${id}`, label: `the end “${name}”` })),
  ];
  return (
    <Pane title={product?.name ?? "A step"}>
      <p className="muted">{step.kind === "downsell" ? `Downsell${declinedBy(view, step, nameOf)}` : "One-time offer after the payment"}</p>
      <Findings findings={view.findings.filter(({ at }) => at === step.id)} />
      <div inert={!mayWrite}>
        <p className={styles.acts}>
          <button type="button" disabled={moveEarlier(view.path, step.id) === view.path} onClick={() => void act({ do: "earlier", step: step.id })}>
            Earlier
          </button>
          <button type="button" disabled={moveLater(view.path, step.id) === view.path} onClick={() => void act({ do: "later", step: step.id })}>
            Later
          </button>
          <button type="button" onClick={() => void act({ do: "remove", step: step.id })}>
            Remove
          </button>
          <button type="button" onClick={onCopy}>
            Copy as a downsell
          </button>
        </p>
        <Select
          label="Product"
          value={step.productId}
          wrong={wrong["product"]}
          options={view.products.filter(({ id }) => id !== view.main.id).map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(picked) => void act({ do: "set", step: step.id, change: { productId: picked } })}
        />
        {product && <PriceFields key={product.id} product={product} refresh={refresh} />}
        <Select
          label="Is"
          value={step.kind}
          options={stepKinds.map((value) => ({ value, label: value === "offer" ? "a one-time offer" : "a downsell: less, for whoever declined" }))}
          onChange={(picked) => void act({ do: "set", step: step.id, change: { kind: picked } })}
        />
        <Select
          label="On the page"
          value={step.pageId}
          wrong={wrong["page"]}
          options={view.pages.filter(({ id }) => id === step.pageId || !taken.has(id)).map(({ id, slug: at }) => ({ value: id, label: `/${at}` }))}
          onChange={(picked) => void act({ do: "set", step: step.id, change: { pageId: picked } })}
        />
        {product && (
          <MediaField
            label="Picture"
            kind="picture"
            value={product.mediaId}
            all={media}
            onMedia={onMedia}
            onChange={(mediaId) =>
              void call(products.setProductPicture, { params: { id: product.id }, request: { mediaId } }).then((answer) =>
                answer.ok ? refresh() : say(answer.message, true),
              )
            }
          />
        )}
        {page && <PageWords key={page.id} page={page} strikable={product?.strikable ?? false} slug={slug} refresh={refresh} />}
        <label className={styles.tick}>
          <input
            type="checkbox"
            checked={step.sure}
            onChange={(event) => void act({ do: "set", step: step.id, change: { sure: event.currentTarget.checked } })}
          />
          <span>Ask “sure?” before the stored card is charged. Otherwise one click does it.</span>
        </label>
        {(["yes", "no"] as const).map((rail) => (
          <Select
            key={rail}
            label={rail === "yes" ? "Yes leads to" : "No leads to"}
            value={rail === "yes" ? step.yesTo : step.noTo}
            options={targets}
            onChange={(picked) => void act({ do: "lead", step: step.id, rail, to: picked })}
          />
        ))}
      </div>
    </Pane>
  );
};

const declinedBy = (view: OffersView, step: PathStep, nameOf: (id: string) => string): string => {
  const declined = view.path.steps.find(({ noTo }) => noTo === step.id && !isEnd(noTo));
  return declined ? `, on the no rail of ${nameOf(declined.id)}` : "";
};

/** The price of what a step sells and how it is paid; saved when a field is left. */
const PriceFields = ({ product, refresh }: { product: OfferedProduct } & Pick<Props, "refresh">) => {
  const own = formatAmount(product.priceMinor, product.currency);
  const [price, setPrice] = useState(own);
  const [terms, setTerms] = useState(product.terms);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const save = async (now: PriceTerms) => {
    if (price === own && JSON.stringify(now) === JSON.stringify(product.terms)) return setWrong({});
    const answer = await call(products.setProductPrice, { params: { id: product.id }, request: { price, terms: now } });
    if (!answer.ok) {
      if (Object.keys(answer.fields).length === 0) say(answer.message, true);
      return setWrong(answer.fields);
    }
    setWrong({});
    say(`${product.name} has this price from now on.`);
    await refresh();
  };
  return (
    <>
      <Field
        label={`Price, ${product.currency}`}
        inputMode="decimal"
        value={price}
        wrong={wrong["price"]}
        onChange={(event) => setPrice(event.currentTarget.value)}
        onBlur={() => void save(terms)}
      />
      <TermsFields
        key={terms.kind}
        terms={terms}
        minor={product.priceMinor}
        currency={product.currency}
        wrong={wrong}
        others={product.pricedIn}
        onChange={(next, settled) => {
          setTerms(next);
          if (settled) void save(next);
        }}
        onSettle={() => void save(terms)}
      />
    </>
  );
};

/** The words of a page's two buttons, and its publishing. They are the page's own: what is typed here stands in its draft. */
const PageWords = ({ page, strikable, slug, refresh }: { page: OfferedPage; strikable: boolean; slug: string } & Pick<Props, "refresh">) => {
  const draft = useDraft(page.id, page.draft, page.version);
  const { content, change, settle } = draft;
  const block = pageLeaves(content).find((leaf) => leaf.type === "offer");
  const set = (field: "yes" | "no" | "strike", value: string | boolean) =>
    block && change((now) => updateBlock(now, block.id, (one) => ({ ...one, [field]: value })), `${block.id}.${field}`);
  const clock = pageLeaves(content).find((leaf) => leaf.type === "countdown");
  const setClock = (form: "" | "inline" | "card") => {
    if (clock && !form) return change((now) => removeBlock(now, clock.id));
    if (clock && form) return change((now) => updateBlock(now, clock.id, (one) => ({ ...one, form }) as Block));
    const place = block && findBlock(content, block.id)?.place;
    if (place && form) change((now) => insertBlock(now, place, { ...newBlock("countdown", newId), form } as Block));
  };
  return (
    <>
      {block?.type === "offer" && (
        <div onBlur={settle}>
          <Field label="Yes says" value={block.yes} maxLength={120} onChange={(event) => set("yes", event.currentTarget.value)} />
          <Field label="No says" value={block.no} maxLength={120} onChange={(event) => set("no", event.currentTarget.value)} />
          <Select
            label="Countdown before it"
            value={clock?.type === "countdown" ? clock.form : ""}
            options={[
              { value: "", label: "none" },
              { value: "inline", label: "a line" },
              { value: "card", label: "a card" },
            ]}
            onChange={(picked) => setClock(picked)}
          />
          <label className={styles.tick}>
            <input type="checkbox" checked={block.strike ?? false} onChange={(event) => set("strike", event.currentTarget.checked)} />
            <span>
              Strike the earlier price through.{" "}
              {block.strike && !strikable && (
                <b>Nothing is struck now: no higher price was asked for the 30 days before (Directive 98/6/EC, art. 6a).</b>
              )}
            </span>
          </label>
        </div>
      )}
      <PagePublishing
        page={page}
        draft={draft}
        href={`/desk/${slug}/pages/${page.key}`}
        link="The rest of the page"
        hidden="buyers pass this step over"
        button={`Publish /${page.slug}`}
        published={`/${page.slug} is published: buyers meet it from now on.`}
        refresh={refresh}
      />
    </>
  );
};
