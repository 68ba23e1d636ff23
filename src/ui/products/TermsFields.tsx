import { freshTerms, priceWords, type Every, type PriceTerms } from "../../core/offers";
import { AmountField } from "../kit/fields/AmountField";
import { Field } from "../kit/fields/Field";
import { optionsOf, Select } from "../kit/fields/Select";
import styles from "./products.module.css";

const kindWords: Record<PriceTerms["kind"], string> = {
  once: "once",
  instalments: "in equal parts",
  subscription: "recurring",
  tiers: "quantity tiers",
  open: "pay what you want",
  shipped: "with what sending it costs",
};

interface Props {
  terms: PriceTerms;
  minor: number;
  currency: string;
  wrong: Record<string, string>;
  /** Other currencies that it has a price in. */
  others?: string[];
  /** Keeps what was chosen; `settled` says that it is whole, and not a number half typed. */
  onChange: (terms: PriceTerms, settled: boolean) => void;
  onSettle: () => void;
}

/** How a product’s price is paid: once, in parts, recurring, in quantity tiers, as the buyer names it, or with shipping. */
export const TermsFields = ({ terms, minor, currency, wrong, others = [], onChange, onSettle }: Props) => {
  const at = (field: string) => wrong[`terms.${field}`];
  const whole = (label: string, field: string, value: number, set: (n: number) => PriceTerms, hint?: string) => (
    <Field
      label={label}
      hint={hint}
      inputMode="numeric"
      value={String(value)}
      wrong={at(field)}
      onChange={(event) => onChange(set(Number(event.currentTarget.value.replace(/\D/g, "") || 0)), false)}
      onBlur={onSettle}
    />
  );
  const amount = (label: string, field: string, value: number, set: (n: number) => PriceTerms) => (
    <AmountField
      key={field}
      label={label}
      minor={value}
      currency={currency}
      wrong={at(field)}
      mayBeNothing
      onChange={(n) => onChange(set(n), false)}
      onSettle={onSettle}
    />
  );
  const often = (every: Every, set: (every: Every) => PriceTerms) => (
    <div className={styles.pair}>
      {whole("Every", "every.n", every.n, (n) => set({ ...every, n }))}
      <Select
        label="of"
        value={every.unit}
        options={(["week", "month", "year"] as const).map((value) => ({ value, label: every.n === 1 ? value : `${value}s` }))}
        onChange={(picked) => onChange(set({ ...every, unit: picked }), true)}
      />
    </div>
  );
  return (
    <>
      <Select label="Price type" value={terms.kind} options={optionsOf(kindWords)} onChange={(picked) => onChange(freshTerms(picked, minor), true)} />
      {terms.kind === "instalments" && (
        <>
          {whole("Parts", "parts", terms.parts, (parts) => ({ ...terms, parts }))}
          {often(terms.every, (every) => ({ ...terms, every }))}
        </>
      )}
      {terms.kind === "subscription" && (
        <>
          {often(terms.every, (every) => ({ ...terms, every }))}
          {whole("Days free at the beginning", "trialDays", terms.trialDays, (trialDays) => ({ ...terms, trialDays }))}
          {amount("Setup fee", "setup", terms.setup, (setup) => ({ ...terms, setup }))}
          {whole("Number of payments", "times", terms.times ?? 0, (times) => ({ ...terms, times: times || null }), "0: until it is ended.")}
        </>
      )}
      {terms.kind === "tiers" && (
        <>
          {terms.tiers.map((tier, index) => {
            const set = (change: Partial<typeof tier>): PriceTerms => ({
              ...terms,
              tiers: terms.tiers.map((one, i) => (i === index ? { ...one, ...change } : one)),
            });
            return (
              <div className={styles.pair} key={index}>
                {whole("From, pieces", `tiers.${index}.from`, tier.from, (from) => set({ from }))}
                {amount("each", `tiers.${index}.minor`, tier.minor, (each) => set({ minor: each }))}
              </div>
            );
          })}
          {at("tiers") && <p role="alert">{at("tiers")}</p>}
          <p className={styles.acts}>
            <button
              type="button"
              onClick={() => {
                const last = terms.tiers.at(-1)!;
                onChange({ ...terms, tiers: [...terms.tiers, { from: last.from * 2, minor: last.minor }] }, true);
              }}
            >
              One more step
            </button>
            {terms.tiers.length > 1 && (
              <button type="button" onClick={() => onChange({ ...terms, tiers: terms.tiers.slice(0, -1) }, true)}>
                One step less
              </button>
            )}
          </p>
        </>
      )}
      {terms.kind === "open" && amount("At least", "floor", terms.floor, (floor) => ({ ...terms, floor }))}
      {terms.kind === "shipped" && amount("Shipping fee", "shipping", terms.shipping, (shipping) => ({ ...terms, shipping }))}
      {(terms.kind === "open" || terms.kind === "shipped") &&
        others.map((code) => {
          const set = (there: number | undefined): PriceTerms => {
            const { [code]: _, ...rest } = terms.elsewhere ?? {};
            return { ...terms, elsewhere: there === undefined ? rest : { ...rest, [code]: there } };
          };
          return (
            <AmountField
              key={code}
              label={terms.kind === "open" ? "At least" : "Shipping fee"}
              minor={terms.elsewhere?.[code]}
              currency={code}
              hint={minor > 0 ? "Empty: in proportion to the price." : undefined}
              wrong={at(`elsewhere.${code}`)}
              mayBeNothing
              onChange={(n) => onChange(set(n), false)}
              onEmpty={() => onChange(set(undefined), false)}
              onSettle={onSettle}
            />
          );
        })}
      {terms.kind !== "once" && <p className="muted">Buyers read: {priceWords(terms, minor, currency)}.</p>}
    </>
  );
};
