import { say } from "../kit/notices";
import { changeVendor } from "../../contract/settings";
import { useRef, useState } from "react";
import { formatMoney as formatIn, locales } from "../../core/money";
import type { VendorDetails } from "../../core/settings";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { optionsOf, Select } from "../kit/fields/Select";
import { call } from "../kit/data/call";
import styles from "./settings.module.css";

interface Props {
  vendor: VendorDetails;
  version: number;
  /** Names by ISO 3166-1: a browser may call some of them otherwise than the server. */
  countries: Record<string, string>;
  mayWrite: boolean;
}

/** The vendor as pages, emails, receipts and the rules of tax know it. What is typed is saved when a field is left. */
export const VendorSection = ({ vendor, version, countries, mayWrite }: Props) => {
  const countryOptions = optionsOf(countries);
  const [typed, setTyped] = useState({
    name: vendor.name,
    postalAddress: vendor.postalAddress,
    country: vendor.country,
    taxNumbers: vendor.taxNumbers,
    senderName: vendor.sender.name,
    senderEmail: vendor.sender.email,
    locale: vendor.locale,
  });
  type Typed = typeof typed;
  const saved = useRef({ version, text: JSON.stringify(typed) });
  const turn = useRef<Promise<unknown>>(Promise.resolve());
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const saveNow = async (now: Typed) => {
    const text = JSON.stringify(now);
    if (text === saved.current.text) return setWrong({});
    const answer = await call(changeVendor, { request: { ...now, version: saved.current.version } });
    if (!answer.ok) {
      if (Object.keys(answer.fields).length === 0) say(answer.message, true);
      return setWrong(answer.fields);
    }
    const renumbered = now.locale !== (JSON.parse(saved.current.text) as Typed).locale;
    saved.current = { version: answer.value.version, text };
    setWrong({});
    say("Saved. Published pages and emails say it from now on.");
    // Every amount on the desk is written anew.
    if (renumbered) location.reload();
  };
  // One after the other: a save that overtook the one before would look like somebody else's change.
  const save = (now: Typed) => {
    turn.current = turn.current.then(() => saveNow(now));
  };
  const set = (change: Partial<Typed>) => setTyped((now) => ({ ...now, ...change }));
  const choose = (change: Partial<Typed>) => {
    const next = { ...typed, ...change };
    setTyped(next);
    save(next);
  };
  const text = (field: "name" | "senderName" | "senderEmail", label: string, hint?: string) => (
    <Field
      label={label}
      hint={hint}
      value={typed[field]}
      wrong={wrong[field]}
      onChange={(event) => set({ [field]: event.currentTarget.value })}
      onBlur={() => save(typed)}
    />
  );
  const setNumber = (index: number, change: Partial<Typed["taxNumbers"][number]>): Typed["taxNumbers"] =>
    typed.taxNumbers.map((one, i) => (i === index ? { ...one, ...change } : one));
  return (
    <section aria-label="Vendor" className={styles.column} inert={!mayWrite}>
      <h2>Vendor</h2>
      {!mayWrite && <p className="muted">An owner changes this.</p>}
      {text("name", "Business name, as pages and emails show it")}
      <Field
        label="Postal address"
        hint="Shown in marketing emails, receipts and invoices."
        rows={3}
        value={typed.postalAddress}
        wrong={wrong["postalAddress"]}
        onChange={(event) => set({ postalAddress: event.currentTarget.value })}
        onBlur={() => save(typed)}
      />
      <Select
        label="Country of establishment"
        value={typed.country}
        wrong={wrong["country"]}
        options={countryOptions}
        onChange={(picked) => choose({ country: picked })}
      />
      <fieldset className={styles.numbers}>
        <legend>Tax numbers</legend>
        {typed.taxNumbers.map((one, index) => (
          <div key={index} className={styles.number}>
            <Select
              label="Country"
              value={one.country}
              options={countryOptions}
              onChange={(picked) => choose({ taxNumbers: setNumber(index, { country: picked }) })}
            />
            <Field
              label="Number"
              value={one.number}
              wrong={wrong[`taxNumbers.${index}.number`]}
              onChange={(event) => set({ taxNumbers: setNumber(index, { number: event.currentTarget.value }) })}
              onBlur={() => save(typed)}
            />
            <button
              type="button"
              className={styles.link}
              aria-label={`Remove tax number ${index + 1}`}
              onClick={() => choose({ taxNumbers: typed.taxNumbers.filter((_, i) => i !== index) })}
            >
              Remove
            </button>
          </div>
        ))}
        {wrong["taxNumbers"] && <p role="alert">{wrong["taxNumbers"]}</p>}
        <Button
          type="button"
          onClick={() => set({ taxNumbers: [...typed.taxNumbers, { country: typed.country, number: "" }] })}
          disabled={typed.taxNumbers.some(({ number }) => number.trim() === "")}
        >
          Add a tax number
        </Button>
      </fieldset>
      {text("senderName", "Sender name")}
      {text("senderEmail", "Sender address", "Replies go there. Your mail server must be allowed to send for this address.")}
      <Select
        label="Number format"
        value={typed.locale}
        options={locales.map((value) => ({ value, label: formatIn(123_450, "EUR", value) }))}
        onChange={(picked) => choose({ locale: picked })}
      />
      <p className={`muted ${styles.note}`}>What is typed at the desk is read in the same way; public pages keep to the language they are in.</p>
    </section>
  );
};
