import { formatAmount } from "../kit/data/numbers";
import { useState, type FormEvent } from "react";
import { downsellPrice, isEnd, targetOn, type PathStep, type StepKind } from "../../core/offers";
import type { OfferedProduct, OffersView } from "../../core/pages";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { Pane } from "../kit/Pane";
import { Select } from "../kit/fields/Select";
import { TemplateSelect, type OwnTemplate } from "../pages/TemplateSelect";
import type { Spot } from "./PathMap";

export interface NewStep {
  do: "add";
  at: Spot;
  kind: StepKind;
  product: { id: string } | { name: string; price: string; like?: string };
  page: { id: string } | { template: string } | { copy: string };
}
interface Props {
  view: OffersView;
  spot: Spot;
  /** A page that waits to be put on the path. */
  page?: string;
  templates: OwnTemplate[];
  /** A step whose product and page the new one begins as. */
  like?: PathStep;
  onAdd: (step: NewStep) => Promise<Record<string, string> | undefined>;
  onClose: () => void;
}

const copyOfPage = "copy";
const fewerUnits = ({ priceMinor, currency }: OfferedProduct): string => formatAmount(downsellPrice(priceMinor, currency), currency);

/** A new step: what it sells and on which page, in one go. Where it stands behind a declined offer it begins as that offer's downsell. */
export const AddStep = ({ view, spot, page, templates, like, onAdd, onClose }: Props) => {
  const behind = "rail" in spot && spot.rail === "no" ? view.path.steps.find(({ id }) => id === spot.from) : undefined;
  const declined = behind && view.products.find(({ id }) => id === behind.productId);
  const [kind, setKind] = useState<StepKind>(behind ? "downsell" : "offer");
  const [product, setProduct] = useState("");
  const copied = like && view.products.find(({ id }) => id === like.productId);
  const [name, setName] = useState(copied ? `${copied.name}, a smaller one` : "");
  const [price, setPrice] = useState(copied ? fewerUnits(copied) : "");
  const [template, setTemplate] = useState(kind === "downsell" ? "downsell-plain" : "offer-bill");
  const taken = new Set(view.path.steps.map(({ pageId }) => pageId));
  const free = view.pages.filter(({ id }) => !taken.has(id));
  const [on, setOn] = useState(page && free.some(({ id }) => id === page) ? page : like ? copyOfPage : "");
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [busy, setBusy] = useState(false);
  const nameOf = (id: string) => view.products.find((one) => one.id === view.path.steps.find((step) => step.id === id)?.productId)?.name ?? "a step";
  const next = "before" in spot ? spot.before : targetOn(view.path, spot);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    const said = await onAdd({
      do: "add",
      at: spot,
      kind,
      product: product ? { id: product } : { name, price, ...(copied ? { like: copied.id } : {}) },
      page: on === copyOfPage && like ? { copy: like.pageId } : on ? { id: on } : { template },
    });
    setBusy(false);
    setWrong(said ?? {});
  };
  const at = (field: string) => wrong[field] ?? wrong[`change.product.${field}`];
  return (
    <Pane title="A new step">
      <p className="muted">
        {"before" in spot ? "For everybody" : "rail" in spot ? `On the ${spot.rail} rail of ${nameOf(spot.from)}` : "After the checkout"}, before{" "}
        {isEnd(next) ? "the thank-you page" : nameOf(next)}.
      </p>
      <form onSubmit={(event) => void submit(event)} noValidate>
        <Select
          label="Is"
          value={kind}
          options={[
            { value: "offer", label: "a one-time offer" },
            { value: "downsell", label: "a downsell: less, for whoever declined" },
          ]}
          onChange={(picked) => {
            setKind(picked);
            setTemplate(picked === "downsell" ? "downsell-plain" : "offer-bill");
          }}
        />
        <Select
          label="Product"
          value={product}
          wrong={wrong["product"]}
          options={[
            { value: "", label: "something new" },
            ...view.products.filter(({ id }) => id !== view.main.id).map(({ id, name: called }) => ({ value: id, label: called })),
          ]}
          onChange={(picked) => setProduct(picked)}
        />
        {!product && (
          <>
            <Field label="Its name, as the buyer reads it" value={name} wrong={at("name")} onChange={(event) => setName(event.currentTarget.value)} />
            <Field
              label={`Its price, ${view.main.currency}`}
              inputMode="decimal"
              value={price}
              wrong={at("price")}
              hint={declined ? `${declined.name} was just declined: a downsell is a few units cheaper.` : undefined}
              onChange={(event) => setPrice(event.currentTarget.value)}
            />
          </>
        )}
        <Select
          label="On the page"
          value={on}
          wrong={wrong["page"]}
          options={[
            ...(like ? [{ value: copyOfPage, label: `a copy of /${view.pages.find(({ id }) => id === like.pageId)?.slug ?? ""}` }] : []),
            { value: "", label: "a new one, from a template" },
            ...free.map(({ id, slug }) => ({ value: id, label: `/${slug}` })),
          ]}
          onChange={(picked) => setOn(picked)}
        />
        {!on && <TemplateSelect label="Template" value={template} own={templates} kind="offer" wrong={wrong["template"]} onChange={setTemplate} />}
        <p style={{ marginTop: 14, display: "flex", gap: 10 }}>
          <Button main type="submit" disabled={busy}>
            Add the step
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </p>
        <p className="muted" style={{ marginTop: 8 }}>
          Its page begins as a draft. Buyers pass the step over until you publish it.
        </p>
      </form>
    </Pane>
  );
};
