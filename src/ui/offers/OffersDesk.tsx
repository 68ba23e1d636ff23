import * as offers from "../../contract/offers";
import { useEffect, useMemo, useState } from "react";
import { shortMoment } from "../../core/words";
import { estimate, noTrial, routesOf, type PathStep, type Route, type Trial } from "../../core/offers";
import type { Media, OffersView } from "../../core/pages";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { Pane } from "../kit/Pane";
import { Select } from "../kit/fields/Select";
import { call } from "../kit/data/call";
import { useReady } from "../kit/data/useReady";
import { say } from "../kit/notices";
import type { OwnTemplate } from "../pages/TemplateSelect";
import { AddStep, type NewStep } from "./AddStep";
import { CheckoutPane } from "./CheckoutPane";
import { Findings } from "./Findings";
import styles from "./offers.module.css";
import { PathMap, type Spot } from "./PathMap";
import { StationPane, type PathChange } from "./StationPane";
import { EconomicsPane } from "./EconomicsPane";

interface Props {
  slug: string;
  zone: string;
  first: OffersView;
  templates: OwnTemplate[];
  media: Media[];
  launches: { slug: string; name: string }[];
  mayWrite: boolean;
  /** What the address asks to be shown: a station, or a page that waits to be put on the path. */
  at?: string;
  page?: string;
}

/** What happens after the order, on one screen: the path as two rails, everything about each step, and what it all earns. */
export const OffersDesk = ({ slug, zone, first, templates, media: uploads, launches, mayWrite, at, page }: Props) => {
  const ready = useReady();
  const [view, setView] = useState(first);
  const [selected, setSelected] = useState(at ?? "checkout");
  const [spot, setSpot] = useState<Spot | undefined>(page ? { before: "thanks" } : undefined);
  const [media, setMedia] = useState(uploads);
  const [like, setLike] = useState<PathStep>();
  const [measured, setMeasured] = useState(first.figures.paid > 0);
  const [trial, setTrial] = useState<Trial>(noTrial);
  // One step back after another: what undo itself saved is not gone back to.
  const [back, setBack] = useState(first.version > 1 ? first.version - 1 : -1);
  const economics = useMemo(() => estimate(view, view.path, trial, measured), [view, trial, measured]);
  const step = view.path.steps.find(({ id }) => id === selected);

  // The address restores what is looked at.
  useEffect(() => {
    const address = new URL(location.href);
    address.searchParams.delete("page");
    if (selected === "checkout") address.searchParams.delete("at");
    else address.searchParams.set("at", selected);
    history.replaceState(null, "", address);
  }, [selected]);

  const refresh = async () => {
    const answer = await call(offers.offersOfLaunch, { params: { slug } });
    if (answer.ok) setView(answer.value);
  };
  const change = async (
    one: PathChange | NewStep | { do: "restore"; to: number } | { do: "copy"; launch: string },
  ): Promise<Record<string, string> | undefined> => {
    const before = new Set(view.path.steps.map(({ id }) => id));
    // What is set stands at once, and goes back where the server objects.
    if (one.do === "set")
      setView({ ...view, path: { ...view.path, steps: view.path.steps.map((step) => (step.id === one.step ? { ...step, ...one.change } : step)) } });
    const answer = await call(offers.changePath, { params: { slug }, request: { version: view.version, change: one } });
    if (!answer.ok) {
      setView(view);
      if (Object.keys(answer.fields).length === 0) say(answer.message, true);
      return answer.fields;
    }
    setView(answer.value);
    setBack(one.do === "restore" ? one.to - 1 : answer.value.version - 1);
    const added = answer.value.path.steps.find(({ id }) => !before.has(id));
    if (one.do === "add" && added) setSelected(added.id);
    else if (!answer.value.path.steps.some(({ id }) => id === selected)) setSelected("checkout");
    setSpot(undefined);
    setLike(undefined);
    say(`${answer.value.versions[0]!.what}. New buyers walk version ${answer.value.version}.`);
    return undefined;
  };
  const keep = async () => {
    const take = Object.fromEntries(Object.entries(trial.take).flatMap(([id, rate]) => (rate === undefined ? [] : [[id, rate]])));
    const assumed = { ...view.assumed, take: { ...view.assumed.take, ...take } };
    const answer = await call(offers.setAssumptions, { params: { slug }, request: { assumptions: assumed } });
    if (!answer.ok) return say(answer.message, true);
    setView({ ...view, assumed });
    setTrial(noTrial);
    setMeasured(false);
    say("Kept as what is assumed.");
  };
  const assumePayments = async (product: string, payments: number) => {
    const assumed = { ...view.assumed, payments: { ...view.assumed.payments, [product]: payments } };
    const answer = await call(offers.setAssumptions, { params: { slug }, request: { assumptions: assumed } });
    if (!answer.ok) return say(answer.message, true);
    setView({ ...view, assumed });
  };
  const add = (where: Spot) => {
    setLike(undefined);
    setSpot(where);
  };
  const onMedia = (one: Media) => setMedia((all) => [one, ...all.filter(({ id }) => id !== one.id)]);
  const routes = routesOf(view.path, 65);
  const select = (id: string) => {
    setSpot(undefined);
    setSelected(id);
  };
  const { paid, arrived } = view.figures;
  const onTheWay = view.versions.filter(({ version, walking }) => walking > 0 && version !== view.version);
  return (
    <div inert={!ready} className={styles.desk}>
      <div style={{ minWidth: 0 }}>
        <div className={styles.head}>
          <div style={{ display: "flex", gap: 14, alignItems: "baseline", flexWrap: "wrap" }}>
            <h1>Offers</h1>
            <span className="muted">
              {paid === 0
                ? "nobody has paid yet"
                : `${paid.toLocaleString("en")} ${paid === 1 ? "order" : "orders"} so far, ${arrived.toLocaleString("en")} past the last offer`}
            </span>
          </div>
          <div style={{ display: "flex", gap: 10 }}>
            <div className={styles.modes} role="group" aria-label="Take rates">
              <button type="button" aria-pressed={measured} disabled={paid === 0} onClick={() => setMeasured(true)}>
                Measured
              </button>
              <button type="button" aria-pressed={!measured} onClick={() => setMeasured(false)}>
                Assumed
              </button>
            </div>
            <a className={styles.walk} href={`/desk/${slug}/try`} target="_blank" rel="noopener">
              Test as a buyer
            </a>
            {mayWrite && (
              <Button disabled={back < 0 || view.version === 0} onClick={() => void change({ do: "restore", to: back })}>
                Undo
              </Button>
            )}
          </div>
        </div>
        <hr className="oxford" />
        <PathMap
          view={view}
          economics={economics}
          measured={measured}
          selected={spot ? "" : selected}
          mayWrite={mayWrite}
          onSelect={select}
          onAdd={add}
        />
        <p className="muted" data-tried>
          {view.tried.orders === 0
            ? "Nobody has tried this version out yet. "
            : `Tried out with test cards: ${walkedOf(view, routes)} of ${routes.length > 64 ? "more than 64" : routes.length} ${routes.length === 1 ? "way" : "ways"} walked to the end. `}
          Test orders count nowhere.{" "}
          <button type="button" className={styles.link} onClick={() => select("thanks")}>
            Show the routes not tested
          </button>
        </p>
        {onTheWay.length > 0 && (
          <p className="muted" data-walking>
            {onTheWay.map(({ version, walking }) => `${walking} ${walking === 1 ? "buyer is" : "buyers are"} still on version ${version}`).join(", ")}
            : they finish the path they began.
          </p>
        )}
        {!view.checkout && mayWrite && (
          <AddCheckout
            slug={slug}
            unpriced={view.main.priceMinor === 0}
            currency={view.main.currency}
            onAdded={async () => {
              await refresh();
              say("Added as drafts: a sales page, a checkout and a thank-you page. Publish them under Pages when they are ready.");
            }}
          />
        )}
        {view.path.steps.length === 0 && mayWrite && <CopyPath slug={slug} launches={launches} onCopy={(launch) => change({ do: "copy", launch })} />}
        <EconomicsPane
          view={view}
          measured={measured}
          selected={selected}
          trial={trial}
          onTrial={setTrial}
          onKeep={mayWrite ? () => void keep() : undefined}
          onPayments={mayWrite ? (product, payments) => void assumePayments(product, payments) : undefined}
        />
      </div>
      <div className={styles.side}>
        {spot ? (
          <AddStep
            key={JSON.stringify(spot)}
            view={view}
            spot={spot}
            page={page}
            templates={templates}
            like={like}
            onAdd={change}
            onClose={() => {
              setSpot(undefined);
              setLike(undefined);
            }}
          />
        ) : step ? (
          <StationPane
            key={step.id}
            view={view}
            step={step}
            slug={slug}
            mayWrite={mayWrite}
            media={media}
            onMedia={onMedia}
            change={change}
            refresh={refresh}
            onCopy={() => {
              setLike(step);
              setSpot({ from: step.id, rail: "no" });
            }}
          />
        ) : selected === "checkout" && view.checkout ? (
          <CheckoutPane page={view.checkout} view={view} slug={slug} mayWrite={mayWrite} media={media} onMedia={onMedia} refresh={refresh} />
        ) : (
          <EndPane view={view} slug={slug} zone={zone} mayWrite={mayWrite} onRestore={(to) => void change({ do: "restore", to })} />
        )}
      </div>
    </div>
  );
};

/** Whether a test order has answered this way, to the end. */
const isWalked = ({ tried }: OffersView, answers: Route["answers"]): boolean =>
  tried.walked.some((route) => Object.keys(route).length === answers.length && answers.every(({ step, decision }) => route[step] === decision));
const walkedOf = (view: OffersView, routes: Route[]): number => routes.filter(({ answers }) => isWalked(view, answers)).length;

/** A launch that collects addresses begins to sell: what, and for how much. */
const AddCheckout = ({ slug, unpriced, currency, onAdded }: { slug: string; unpriced: boolean; currency: string; onAdded: () => Promise<void> }) => {
  const [typed, setTyped] = useState({ name: "", price: "" });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const addIt = async () => {
    const answer = await call(offers.addCheckout, { params: { slug }, request: unpriced ? { product: typed } : {} });
    if (answer.ok) return onAdded();
    setWrong(answer.fields);
    if (Object.keys(answer.fields).length === 0) say(answer.message, true);
  };
  return (
    <div className={styles.foot}>
      <p>
        This launch collects addresses and sells nothing yet. A sales page, a checkout and a thank-you page can stand beside its opt-in, which goes on
        as it is; the countdown, emails of the bells and a way to the sales page are laid out with them.
      </p>
      {unpriced && (
        <>
          <Field
            label="What is sold, as the buyer reads it"
            value={typed.name}
            wrong={wrong["product.name"] ?? wrong["name"]}
            onChange={(event) => setTyped({ ...typed, name: event.currentTarget.value })}
          />
          <Field
            label={`Price, ${currency}`}
            inputMode="decimal"
            value={typed.price}
            wrong={wrong["product.price"] ?? wrong["price"]}
            onChange={(event) => setTyped({ ...typed, price: event.currentTarget.value })}
          />
        </>
      )}
      <Button main onClick={() => void addIt()}>
        Add the three pages
      </Button>
    </div>
  );
};

/** A path taken over from another launch, with copies of its pages. */
const CopyPath = ({
  slug,
  launches,
  onCopy,
}: {
  slug: string;
  launches: { slug: string; name: string }[];
  onCopy: (launch: string) => Promise<Record<string, string> | undefined>;
}) => {
  const [from, setFrom] = useState("");
  const [wrong, setWrong] = useState<string>();
  return (
    <div className={styles.foot}>
      <p>Nothing is offered after the order yet. Press + where the first step is to stand, or</p>
      <Select
        label="Copy the path of another launch"
        hideLabel
        value={from}
        wrong={wrong}
        options={[
          { value: "", label: "copy the path of another launch" },
          ...launches.filter((one) => one.slug !== slug).map((one) => ({ value: one.slug, label: one.name })),
        ]}
        onChange={(picked) => setFrom(picked)}
      />
      <Button disabled={!from} onClick={() => void onCopy(from).then((said) => setWrong(said?.["launch"]))}>
        Copy it here
      </Button>
    </div>
  );
};

/** Where the path ends, every way there, and the versions it has had. */
const EndPane = ({
  view,
  slug,
  zone,
  mayWrite,
  onRestore,
}: {
  view: OffersView;
  slug: string;
  zone: string;
  mayWrite: boolean;
  onRestore: (to: number) => void;
}) => {
  const routes = routesOf(view.path, 65);
  const nameOf = (id: string) => view.products.find((one) => one.id === view.path.steps.find((step) => step.id === id)?.productId)?.name ?? "a step";
  return (
    <Pane title="Thank you">
      <Findings findings={view.findings.filter(({ at }) => at === "thanks")} />
      <p className="muted">
        {routes.length > 64 ? "More than 64 ways lead here." : routes.length === 1 ? "One way leads here." : `${routes.length} ways lead here.`}{" "}
        <a href={`/desk/${slug}/pages/thanks`}>The page</a>
      </p>
      {routes.length <= 64 && (
        <ul className={`${styles.versions} ${styles.routes}`} tabIndex={0} aria-label="Ways to the end">
          {routes.map(({ answers }, index) => (
            <li key={index}>
              <b>{isWalked(view, answers) ? "✓ walked " : "— not walked "}</b>
              {answers.length === 0 ? "straight from the checkout" : answers.map(({ step, decision }) => `${nameOf(step)}: ${decision}`).join(", ")}
            </li>
          ))}
        </ul>
      )}
      <h3 style={{ marginTop: 20 }}>Versions of the path</h3>
      <ul className={styles.versions}>
        {view.versions.slice(0, 20).map(({ version, what, at, walking }) => (
          <li key={version}>
            {what}
            <span>
              version {version}, {shortMoment(new Date(at), zone)}
              {version === view.version ? ", walked by new buyers" : walking > 0 ? `, ${walking} still on it` : ""}
              {mayWrite && version !== view.version && (
                <>
                  {" "}
                  <button type="button" className={styles.link} onClick={() => onRestore(version)}>
                    Bring it back
                  </button>
                </>
              )}
            </span>
          </li>
        ))}
      </ul>
    </Pane>
  );
};
