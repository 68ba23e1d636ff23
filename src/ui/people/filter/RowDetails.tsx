import { fullMoment } from "../../../core/words";
import { useId } from "react";
import { mostDays, mostTimes, type Condition, type ConditionThings, type Did, type Mailed, type TextTest } from "../../../core/conditions";
import { knownWords } from "../../../contract/people";
import { devices } from "../../../core/events";
import { currencies } from "../../../core/money";
import { useRead } from "../../kit/data/useRead";
import { AmountField } from "../../kit/fields/AmountField";
import { Select, type Option } from "../../kit/fields/Select";
import kit from "../../kit/kit.module.css";
import { ofProducts, onPages } from "./rowKinds";
import styles from "./filter.module.css";

/** What a vendor chooses from while a condition is put together. */
export interface FilterChoices {
  things: ConditionThings;
  countries: Record<string, string>;
}

interface Props<Asked> {
  asked: Asked;
  choices: FilterChoices;
  onChange: (asked: Condition) => void;
}

const tests: readonly Option<TextTest["is"]>[] = [
  { value: "equals", label: "exactly" },
  { value: "contains", label: "containing" },
  { value: "starts", label: "starting with" },
  { value: "matches", label: "matching" },
];

interface TextProps {
  label: string;
  value: string;
  onChange: (text: string) => void;
}

/** A short text in a row, with what is known of it to choose from. */
const Text = ({ label, value, from, onChange }: TextProps & { from?: readonly string[] | undefined }) => {
  const id = useId();
  return (
    <>
      <input
        aria-label={label}
        placeholder={label.toLowerCase()}
        className={kit.control}
        value={value}
        list={from && id}
        onChange={(event) => onChange(event.currentTarget.value)}
      />
      {from && (
        <datalist id={id}>
          {from.map((one) => (
            <option key={one} value={one} />
          ))}
        </datalist>
      )}
    </>
  );
};

/** The same of what people are tagged with or were asked. */
const KnownText = ({ of, ...rest }: TextProps & { of: "tags" | "questions" }) => {
  const { value: known } = useRead(knownWords, {});
  return <Text {...rest} from={known?.[of]} />;
};

const Tested = ({ label, test, onChange }: { label: string; test: TextTest; onChange: (test: TextTest) => void }) => (
  <>
    <Select
      label={`How the ${label.toLowerCase()} is compared`}
      hideLabel
      value={test.is}
      options={tests}
      onChange={(is) => onChange({ ...test, is })}
    />
    <Text label={label} value={test.text} onChange={(text) => onChange({ ...test, text })} />
  </>
);

const Count = ({
  label,
  after,
  value,
  most,
  onChange,
}: Record<"label" | "after", string> & { value: number | undefined; most: number; onChange: (n?: number) => void }) => (
  <label className={styles.count}>
    {label}
    <input
      className={kit.control}
      inputMode="numeric"
      value={value ?? ""}
      onChange={(event) => {
        const n = Math.min(most, Number(event.currentTarget.value.replace(/\D/g, "")));
        onChange(n > 0 ? n : undefined);
      }}
    />
    {after}
  </label>
);

const any = "";
const choiceOf = (label: string, things: readonly { id: string; name: string }[]): Option<string>[] => [
  { value: any, label },
  ...things.map(({ id, name }) => ({ value: id, label: name })),
];

/** A thing that was done: of which launch and product, on which page, how often, how long ago. */
const Done = ({ asked, choices: { things }, onChange }: Props<Did>) => {
  const { did, launch, product, page, times, withinDays } = asked;
  const change = (part: { [Name in keyof Did]?: Did[Name] | undefined }) =>
    onChange(Object.fromEntries(Object.entries({ ...asked, ...part }).filter(([, value]) => value !== undefined && value !== any)) as Did);
  return (
    <>
      <Select
        label="Launch"
        hideLabel
        value={launch ?? any}
        options={choiceOf("of any launch", things.launch)}
        onChange={(id) => change({ launch: id })}
      />
      {ofProducts.has(did) && (
        <Select
          label="Product"
          hideLabel
          value={product ?? any}
          options={choiceOf("any product", things.product)}
          onChange={(id) => change({ product: id })}
        />
      )}
      {onPages.has(did) && page === undefined && (
        <button type="button" className={styles.link} onClick={() => change({ page: { is: "equals", text: "" } })}>
          on a page…
        </button>
      )}
      {page && (
        <>
          <Tested label="Page" test={page} onChange={(next) => change({ page: next })} />
          <button type="button" className={styles.link} onClick={() => change({ page: undefined })}>
            any page
          </button>
        </>
      )}
      <Count label="at least" after="times" value={times} most={mostTimes} onChange={(n) => change({ times: n === 1 ? undefined : n })} />
      <Count label="within" after="days" value={withinDays} most={mostDays} onChange={(n) => change({ withinDays: n })} />
    </>
  );
};

/** What became of an email: of which one, on which link, how long ago. */
const OfEmail = ({ asked, choices: { things }, onChange }: Props<Mailed>) => {
  const { mailed, email, link, withinDays } = asked;
  const change = (part: { [Name in keyof Mailed]?: Mailed[Name] | undefined }) =>
    onChange(Object.fromEntries(Object.entries({ ...asked, ...part }).filter(([, value]) => value !== undefined && value !== any)) as Mailed);
  return (
    <>
      <Select label="Email" hideLabel value={email ?? any} options={choiceOf("any email", things.email)} onChange={(id) => change({ email: id })} />
      {mailed === "clicked" && !link && (
        <button type="button" className={styles.link} onClick={() => change({ link: { is: "contains", text: "" } })}>
          on a link…
        </button>
      )}
      {link && (
        <>
          <Tested label="Link" test={link} onChange={(next) => change({ link: next })} />
          <button type="button" className={styles.link} onClick={() => change({ link: undefined })}>
            any link
          </button>
        </>
      )}
      <Count label="within" after="days" value={withinDays} most={mostDays} onChange={(n) => change({ withinDays: n })} />
    </>
  );
};

const Countries = ({ asked: { country }, choices: { countries }, onChange }: Props<{ country: string[] }>) => (
  <>
    {[...country, any].map((code, at) => (
      <Select
        key={`${code} ${at}`}
        label={at === 0 ? "Country" : "Another country"}
        hideLabel
        value={code}
        options={[
          { value: any, label: at === 0 ? "choose a country" : code === any ? "or in…" : "remove" },
          ...Object.entries(countries)
            .filter(([value]) => value === code || !country.includes(value))
            .map(([value, label]) => ({ value, label })),
        ]}
        onChange={(picked) => onChange({ country: [...country.slice(0, at), picked, ...country.slice(at + 1)].filter((one) => one !== any) })}
      />
    ))}
  </>
);

/** The rest of a row: what is asked of what was chosen at its beginning. */
export const RowDetails = ({ asked, choices, onChange }: Props<Condition>) => {
  if ("did" in asked) return <Done asked={asked} choices={choices} onChange={onChange} />;
  if ("mailed" in asked) return <OfEmail asked={asked} choices={choices} onChange={onChange} />;
  if ("toldOther" in asked) {
    const { launch, than, after } = asked.toldOther;
    const name = choices.things.launch.find(({ id }) => id === launch)?.name ?? "a launch that is gone";
    return (
      <span>
        {name} other than {fullMoment(new Date(than), "UTC")} UTC, after {fullMoment(new Date(after), "UTC")} UTC
      </span>
    );
  }
  if ("country" in asked) return <Countries asked={asked} choices={choices} onChange={onChange} />;
  if ("tag" in asked) return <KnownText of="tags" label="Tag" value={asked.tag} onChange={(tag) => onChange({ tag })} />;
  if ("source" in asked) return <Tested label="Source" test={asked.source} onChange={(source) => onChange({ source })} />;
  if ("device" in asked) {
    const options = devices.map((value) => ({ value, label: value }));
    return <Select label="Device" hideLabel value={asked.device} options={options} onChange={(device) => onChange({ device })} />;
  }
  if ("partner" in asked) {
    const options = choiceOf("any partner", choices.things.partner);
    return (
      <Select
        label="Partner"
        hideLabel
        value={asked.partner ?? any}
        options={options}
        onChange={(id) => onChange({ partner: id === any ? null : id })}
      />
    );
  }
  if ("answered" in asked) {
    const { question, text } = asked.answered;
    const change = (part: Partial<typeof asked.answered>) => onChange({ answered: { ...asked.answered, ...part } });
    return (
      <>
        <KnownText of="questions" label="Question" value={question} onChange={(typed) => change({ question: typed })} />
        <Tested label="Answer" test={text} onChange={(next) => change({ text: next })} />
      </>
    );
  }
  if ("spent" in asked) {
    const { minor, currency } = asked.spent;
    return (
      <>
        <AmountField
          key={currency}
          label="Amount"
          minor={minor}
          currency={currency}
          onChange={(next) => onChange({ spent: { minor: next, currency } })}
        />
        <Select
          label="Currency"
          hideLabel
          value={currency}
          options={currencies.map((value) => ({ value, label: value }))}
          onChange={(next) => onChange({ spent: { minor, currency: next } })}
        />
      </>
    );
  }
  return null;
};
