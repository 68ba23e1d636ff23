import { useState } from "react";
import { Field } from "./Field";
import { faultSentence, formatAmount, readAmount } from "../data/numbers";

interface Props {
  label: string;
  /** Undefined where nothing was given, which `onEmpty` allows. */
  minor: number | undefined;
  currency: string;
  hint?: string;
  wrong?: string;
  /** Whether nothing is an amount too. */
  mayBeNothing?: boolean;
  /** Each amount that can be read, as it is typed. */
  onChange: (minor: number) => void;
  /** The field was emptied; without this it may not be. */
  onEmpty?: () => void;
  /** The field is left. */
  onSettle?: () => void;
}

/** An amount as it is typed; what is no amount leaves what was there and says so. */
export const AmountField = ({ label, minor, currency, hint, wrong, mayBeNothing = false, onChange, onEmpty, onSettle }: Props) => {
  const [typed, setTyped] = useState(minor === undefined ? "" : formatAmount(minor, currency));
  const read = readAmount(typed, currency);
  const says = (): string | undefined => {
    if (onEmpty && typed.trim() === "") return undefined;
    if (typeof read !== "number") return faultSentence({ code: "amount", refusal: read, currency });
    return read > 0 || mayBeNothing ? undefined : faultSentence({ code: "above_zero", currency, example: 14_900 });
  };
  return (
    <Field
      label={`${label}, ${currency}`}
      hint={hint}
      inputMode="decimal"
      value={typed}
      wrong={says() ?? wrong}
      onChange={(event) => {
        const text = event.currentTarget.value;
        setTyped(text);
        const next = readAmount(text, currency);
        if (onEmpty && text.trim() === "") onEmpty();
        else if (typeof next === "number" && (next > 0 || mayBeNothing)) onChange(next);
      }}
      onBlur={onSettle}
    />
  );
};
