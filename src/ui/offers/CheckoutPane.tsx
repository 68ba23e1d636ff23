import { makeBump } from "../../contract/products";
import type { OfferedPage, OffersView } from "../../core/pages";
import { useState } from "react";
import {
  findBlock,
  insertBlock,
  newBlock,
  pageLeaves,
  removeBlock,
  stepBlock,
  updateBlock,
  type Block,
  type BlockOf,
  type Media,
  type PageContent,
} from "../../core/pages";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { Pane } from "../kit/Pane";
import { Select } from "../kit/fields/Select";
import { call } from "../kit/data/call";
import { newId } from "../pages/editor/editing";
import { MediaField } from "../pages/fields/MediaField";
import { useDraft } from "../pages/editor/useDraft";
import { Findings } from "./Findings";
import styles from "./offers.module.css";
import { PagePublishing } from "./PagePublishing";

interface Props {
  view: OffersView;
  page: OfferedPage;
  slug: string;
  mayWrite: boolean;
  media: Media[];
  onMedia: (media: Media) => void;
  refresh: () => Promise<void>;
}

/** A new bump stands behind the order form, or behind the last bump there is. */
const withBump = (content: PageContent, made: Block): PageContent => {
  const last = pageLeaves(content).findLast(({ type }) => type === "bump" || type === "checkout");
  const place = last && findBlock(content, last.id)?.place;
  return place ? insertBlock(content, { ...place, index: place.index + 1 }, made) : content;
};

/** The checkout of the path: the words of its order button, and the bumps beside it, in their order. */
export const CheckoutPane = ({ view, page, slug, mayWrite, media, onMedia, refresh }: Props) => {
  const draft = useDraft(page.id, page.draft, page.version);
  const { content, change, settle } = draft;
  const leaves = pageLeaves(content);
  const order = leaves.find((leaf) => leaf.type === "checkout");
  const bumps = leaves.filter((leaf): leaf is BlockOf<"bump"> => leaf.type === "bump");
  const [adding, setAdding] = useState(false);
  const set = (id: string, field: string, value: unknown) =>
    change((now) => updateBlock(now, id, (one) => ({ ...one, [field]: value })), `${id}.${field}`);
  return (
    <Pane title="Checkout">
      <p className="muted">{view.main.name}</p>
      <Findings findings={view.findings.filter(({ at }) => at === "checkout")} />
      <div inert={!mayWrite} onBlur={settle}>
        {order?.type === "checkout" && (
          <Field
            label="The order button says"
            value={order.pay}
            maxLength={120}
            onChange={(event) => set(order.id, "pay", event.currentTarget.value)}
          />
        )}
        {order?.type === "checkout" && (
          <>
            <Select
              label="Checkout steps"
              value={order.steps ?? "two"}
              options={[
                { value: "two", label: "for the address first" },
                { value: "one", label: "for everything on one page" },
              ]}
              onChange={(picked) => set(order.id, "steps", picked)}
            />
            <label className={styles.tick}>
              <input type="checkbox" checked={order.quantity ?? false} onChange={(event) => set(order.id, "quantity", event.currentTarget.checked)} />
              <span>Buyers say how many they want.</span>
            </label>
            <Field
              label="Address of your terms"
              value={order.terms ?? ""}
              maxLength={500}
              placeholder="https://"
              hint="With one, buyers tick that they agree."
              onChange={(event) => set(order.id, "terms", event.currentTarget.value)}
            />
          </>
        )}
        {bumps.map((bump, index) => (
          <fieldset key={bump.id} className={styles.bump} style={{ border: 0, borderTop: "1px solid var(--hair)", paddingInline: 0 }}>
            <legend className="visually-hidden">Bump {index + 1}</legend>
            <p className={styles.acts}>
              <b>Bump {index + 1}</b>
              <button type="button" disabled={index === 0} onClick={() => change((now) => stepBlock(now, bump.id, -1))}>
                Earlier
              </button>
              <button type="button" disabled={index === bumps.length - 1} onClick={() => change((now) => stepBlock(now, bump.id, 1))}>
                Later
              </button>
              <button type="button" onClick={() => change((now) => removeBlock(now, bump.id))}>
                Remove
              </button>
            </p>
            <Select
              label="Adds"
              value={bump.product ?? ""}
              options={[
                { value: "", label: "choose a product" },
                ...view.products.filter(({ id }) => id !== view.main.id).map(({ id, name }) => ({ value: id, label: name })),
              ]}
              onChange={(picked) => set(bump.id, "product", picked || null)}
            />
            <Field label="Heading" value={bump.heading} maxLength={120} onChange={(event) => set(bump.id, "heading", event.currentTarget.value)} />
            <Field
              label="What it is"
              rows={3}
              value={bump.words}
              maxLength={600}
              onChange={(event) => set(bump.id, "words", event.currentTarget.value)}
            />
            <Field label="Beside the box" value={bump.tick} maxLength={160} onChange={(event) => set(bump.id, "tick", event.currentTarget.value)} />
            <MediaField
              label="Picture"
              kind="picture"
              value={bump.media}
              all={media}
              onMedia={onMedia}
              onChange={(id) => set(bump.id, "media", id)}
            />
            <label className={styles.tick}>
              <input type="checkbox" checked={bump.strike ?? false} onChange={(event) => set(bump.id, "strike", event.currentTarget.checked)} />
              <span>
                Strike the earlier price through.{" "}
                {bump.strike && !view.products.find(({ id }) => id === bump.product)?.strikable && (
                  <b>Nothing is struck now: no higher price was asked for the 30 days before.</b>
                )}
              </span>
            </label>
          </fieldset>
        ))}
        {adding ? (
          <NewBump
            page={page}
            view={view}
            onClose={() => setAdding(false)}
            onMade={async (product, name) => {
              change((now) => withBump(now, { ...newBlock("bump", newId), product, heading: name, tick: "Yes, put it in." } as Block));
              setAdding(false);
              await refresh();
            }}
          />
        ) : (
          <p style={{ marginTop: 14 }}>
            <Button onClick={() => setAdding(true)}>Add a bump</Button>
          </p>
        )}
        <PagePublishing
          page={page}
          draft={draft}
          href={`/desk/${slug}/pages/${page.key}`}
          link="The rest of the page"
          hidden="nothing can be paid"
          button="Publish the checkout"
          published="The checkout is published. Checkouts under way go on undisturbed."
          refresh={refresh}
        />
      </div>
    </Pane>
  );
};

interface NewBumpProps {
  page: OfferedPage;
  view: OffersView;
  onMade: (product: string, name: string) => Promise<void>;
  onClose: () => void;
}

/** A bump of a product that there is, or of a new one made here. */
const NewBump = ({ page, view, onMade, onClose }: NewBumpProps) => {
  const [id, setId] = useState("");
  const [typed, setTyped] = useState({ name: "", price: "" });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const make = async () => {
    const known = view.products.find((one) => one.id === id);
    if (known) return onMade(known.id, known.name);
    const answer = await call(makeBump, { params: { id: page.id }, request: typed });
    if (!answer.ok) return setWrong(Object.keys(answer.fields).length > 0 ? answer.fields : { name: answer.message });
    await onMade(answer.value.id, answer.value.name);
  };
  return (
    <div className={styles.bump}>
      <Select
        label="The bump adds"
        value={id}
        options={[
          { value: "", label: "something new" },
          ...view.products
            .filter((one) => one.id !== view.main.id && !view.bumps.includes(one.id))
            .map((one) => ({ value: one.id, label: one.name })),
        ]}
        onChange={(picked) => setId(picked)}
      />
      {!id && (
        <>
          <Field
            label="The bump's name, as the buyer reads it"
            value={typed.name}
            wrong={wrong["name"]}
            onChange={(event) => setTyped({ ...typed, name: event.currentTarget.value })}
          />
          <Field
            label={`The bump's price, ${view.main.currency}`}
            inputMode="decimal"
            value={typed.price}
            wrong={wrong["price"]}
            onChange={(event) => setTyped({ ...typed, price: event.currentTarget.value })}
          />
        </>
      )}
      <p style={{ marginTop: 10, display: "flex", gap: 10 }}>
        <Button onClick={() => void make()}>Put it beside the checkout</Button>
        <Button onClick={onClose}>Cancel</Button>
      </p>
    </div>
  );
};
