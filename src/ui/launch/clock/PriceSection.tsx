import { usualSoldOut } from "../../../core/launch";
import { wholeUnits } from "../../../core/money";
import { formatMoney } from "../../kit/data/numbers";
import { AmountField } from "../../kit/fields/AmountField";
import { Button } from "../../kit/Button";
import { DateTimeField } from "../../kit/fields/DateTimeField";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { changed, freshId, without, type ClockDraft } from "./clockDraft";
import styles from "./Clock.module.css";

/** Dated prices, the price that rises with the sales, and the seats: what the pages claim and the checkout obeys. */
export const PriceSection = ({ draft, price }: { draft: ClockDraft; price: number }) => {
  const { prices, rising, seats, clock, holdMinutes, soldOut = usualSoldOut } = draft.settings;
  const { currency } = draft;
  return (
    <section className={styles.section} aria-labelledby="price">
      <h2 id="price">Price and seats</h2>
      <p className="muted">
        The product costs {formatMoney(price, currency)}. What a page says of seats and of the next price comes from the true counters, and the
        checkout obeys the same.
      </p>
      {prices.map((dated, index) => (
        <div key={dated.id} className={`${styles.item} ${styles.two}`}>
          <DateTimeField
            label="Valid from"
            value={dated.from}
            zone={draft.zone}
            landmarks={draft.landmarks}
            wrong={draft.wrong(`prices.${index}.from`)}
            onChange={(from) => draft.set({ prices: changed(prices, index, { from }) })}
          />
          <AmountField
            label="Price"
            minor={dated.minor}
            currency={currency}
            wrong={draft.wrong(`prices.${index}.minor`)}
            onChange={(minor) => draft.set({ prices: changed(prices, index, { minor }) })}
          />
          <button type="button" className={styles.remove} onClick={() => draft.set({ prices: without(prices, index) })}>
            Remove this price bell
          </button>
        </div>
      ))}
      {draft.wrong("prices") && <p role="alert">{draft.wrong("prices")}</p>}
      {clock.kind === "fixed" && (
        <p className={styles.actions}>
          <Button onClick={() => draft.set({ prices: [...prices, { id: freshId(prices, "price"), from: clock.opens, minor: price }] })}>
            Add a price bell
          </Button>
        </p>
      )}
      <div className={styles.four}>
        <Select
          label="Rising price"
          value={rising ? (rising.by ?? "sales") : "no"}
          wrong={draft.wrong("rising.by")}
          options={[
            { value: "no", label: "no" },
            { value: "sales", label: "with the sales" },
            ...(clock.kind === "fixed" || rising?.by === "time" ? [{ value: "time" as const, label: "with the time since the opening" }] : []),
          ]}
          onChange={(picked) => {
            const by = picked;
            const amounts = { stepMinor: rising?.stepMinor ?? wholeUnits(1, currency), capMinor: rising?.capMinor ?? price * 2 };
            draft.set({
              rising: by === "no" ? null : by === "time" ? { by: "time", every: 1_440, ...amounts } : { by: "sales", every: 25, ...amounts },
            });
          }}
        />
        {rising && (
          <>
            <Field
              label={rising.by === "time" ? "Rises every, minutes" : "Rises every, sales"}
              type="number"
              min={1}
              value={rising.every}
              wrong={draft.wrong("rising.every")}
              onChange={(event) => draft.set({ rising: { ...rising, every: Number(event.currentTarget.value) } })}
            />
            <AmountField
              label="Increase"
              minor={rising.stepMinor}
              currency={currency}
              wrong={draft.wrong("rising.stepMinor")}
              onChange={(stepMinor) => draft.set({ rising: { ...rising, stepMinor } })}
            />
            <AmountField
              label="Maximum price"
              minor={rising.capMinor}
              currency={currency}
              wrong={draft.wrong("rising.capMinor")}
              onChange={(capMinor) => draft.set({ rising: { ...rising, capMinor } })}
            />
          </>
        )}
      </div>
      <div className={styles.two}>
        <Field
          label="Seats"
          type="number"
          min={1}
          value={seats ?? ""}
          placeholder="not counted"
          wrong={draft.wrong("seats")}
          onChange={(event) => draft.set({ seats: event.currentTarget.value === "" ? null : Number(event.currentTarget.value) })}
        />
        <Field
          label="Price hold, minutes"
          type="number"
          min={0}
          value={holdMinutes ?? 15}
          wrong={draft.wrong("holdMinutes")}
          onChange={(event) => draft.set({ holdMinutes: Number(event.currentTarget.value) })}
        />
        {seats !== null && (
          <>
            <Select
              label="When all seats are taken"
              value={soldOut.answer}
              options={[
                { value: "waiting_list", label: "the page that takes addresses answers" },
                { value: "closed", label: "the closed page answers" },
              ]}
              onChange={(picked) => draft.set({ soldOut: { ...soldOut, answer: picked } })}
            />
            <Select
              label="A seat that comes back is open to"
              value={soldOut.reopens}
              options={[
                { value: "everyone", label: "everyone" },
                { value: "list", label: "those on the list" },
              ]}
              onChange={(picked) => draft.set({ soldOut: { ...soldOut, reopens: picked } })}
            />
          </>
        )}
      </div>
    </section>
  );
};
