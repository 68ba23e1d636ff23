import { type RequestOf } from "../../contract/endpoint";
import { listingStep } from "../../contract/markets";
import { useState } from "react";
import type { ListingState, RuleStatus } from "../../core/markets";
import { formatBasisPoints, formatMoney } from "../kit/data/numbers";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { call } from "../kit/data/call";
import { say } from "../kit/notices";
import styles from "./ListingDesk.module.css";

interface Props {
  slug: string;
  product: string;
  currency: string;
  refundDays: number;
  marketplace: string;
  address: string;
  feeBp: number;
  rules: RuleStatus[];
  state: ListingState;
  orderLink?: string;
  reasons: string[];
  sold: { orders: number; receivable: number; fees: number };
}

const stateWords: Record<ListingState, string> = {
  draft: "Draft: nobody there has seen it",
  submitted: "Submitted, under review",
  returned: "Returned with reasons",
  live: "Live in the catalogue",
};
const marks = { met: "✓ met", not_met: "✕ not met", cannot_tell: "? cannot tell" };

const base64Of = async (file: File): Promise<string> => {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let text = "";
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return btoa(text);
};

/** One marketplace: its rules with what was found and the field that mends each, the review, the order link, the money. */
export const ListingDesk = (props: Props) => {
  const { slug, rules, state, marketplace } = props;
  const [days, setDays] = useState(String(props.refundDays));
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [busy, setBusy] = useState(false);
  const open = rules.filter(({ status }) => status !== "met").length;
  const changeable = state === "draft" || state === "returned";

  const step = async (name: string, body: RequestOf<typeof listingStep>) => {
    setBusy(true);
    const result = await call(listingStep, { params: { slug, step: name }, request: body });
    setBusy(false);
    setWrong(result.ok ? {} : result.fields);
    if (!result.ok) return say(result.message, true);
    location.assign(result.value.href ?? location.href);
  };
  const mend: Record<RuleStatus["rule"], React.ReactNode> = {
    picture: (
      <Field
        label="Picture, PNG, JPEG or WebP"
        type="file"
        accept="image/png,image/jpeg,image/webp"
        wrong={wrong["picture"]}
        disabled={!changeable || busy}
        onChange={async (event) => {
          const file = event.currentTarget.files?.[0];
          if (file) await step("picture", { picture: await base64Of(file) });
        }}
      />
    ),
    refund_window: (
      <form
        className={styles.inline}
        onSubmit={(event) => {
          event.preventDefault();
          void step("refund_window", { days });
        }}
      >
        <Field
          label={`Days to return ${props.product}`}
          inputMode="numeric"
          value={days}
          onChange={(event) => setDays(event.currentTarget.value)}
          wrong={wrong["days"]}
          disabled={!changeable}
        />
        <Button type="submit" disabled={busy || !changeable}>
          Set the window
        </Button>
      </form>
    ),
    terms: (
      <Button disabled={busy || !changeable} onClick={() => step("terms", {})}>
        Accept the terms of {marketplace}
      </Button>
    ),
    test_order: (
      <Button disabled={busy || !changeable} onClick={() => step("test_order", {})}>
        Make a test order at {marketplace}
      </Button>
    ),
  };
  return (
    <div className={styles.columns}>
      <section aria-label={marketplace}>
        <header className={styles.head}>
          <h2>{marketplace}</h2>
          <p>
            It sells in its own name, pays the tax, and keeps {formatBasisPoints(props.feeBp)} of the net price.{" "}
            <a href={props.address}>Its catalogue</a>
          </p>
          <p className={styles[state]} data-state={state}>
            {stateWords[state]}
          </p>
          {props.reasons.map((reason) => (
            <p key={reason} className={styles.reason}>
              {reason}
            </p>
          ))}
        </header>
        <ol className={styles.rules}>
          {rules.map((rule) => (
            <li key={rule.rule} id={rule.fix} data-rule={rule.rule} data-status={rule.status}>
              <span className={styles[rule.status]}>{marks[rule.status]}</span>
              <div>
                <strong>{rule.asks}</strong>
                <p className="muted">{rule.found}</p>
                {rule.status !== "met" && mend[rule.rule]}
              </div>
            </li>
          ))}
        </ol>
        {changeable && (
          <p className={styles.submit}>
            <Button main disabled={open > 0 || busy} onClick={() => step("submit", {})}>
              Submit to {marketplace}
            </Button>
            <span className="muted">{open > 0 ? `${open} of ${rules.length} rules are open, so it would be refused.` : "Every rule is met."}</span>
          </p>
        )}
      </section>
      <aside className={styles.pane} aria-label="Orders on the marketplace">
        <h2>Orders on the marketplace</h2>
        {props.orderLink ? (
          <p>
            Order link
            <br />
            <a href={props.orderLink}>{props.orderLink}</a>
          </p>
        ) : (
          <p className="muted">The order link comes with the approval.</p>
        )}
        <dl>
          <div>
            <dt>Orders</dt>
            <dd data-market-orders>{props.sold.orders}</dd>
          </div>
          <div>
            <dt>Owed to us</dt>
            <dd>{formatMoney(props.sold.receivable, props.currency)}</dd>
          </div>
          <div>
            <dt>Marketplace fee</dt>
            <dd>{formatMoney(props.sold.fees, props.currency)}</dd>
          </div>
        </dl>
      </aside>
    </div>
  );
};
