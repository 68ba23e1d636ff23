import { useState } from "react";
import { formatMoney, minorDigits, parseAmount } from "../../core/money";
import { Field } from "./Field";

interface Props {
  label: string;
  minor: number;
  currency: string;
  wrong?: string;
  /** Whether nothing is an amount too. */
  mayBeNothing?: boolean;
  /** Each amount that can be read, as it is typed. */
  onChange: (minor: number) => void;
  /** The field is left. */
  onSettle?: () => void;
}

/** An amount as it is typed; what is no amount leaves what was there and says so. */
export const AmountField = ({ label, minor, currency, wrong, mayBeNothing = false, onChange, onSettle }: Props) => {
  const digits = minorDigits(currency);
  const [typed, setTyped] = useState((minor / 10 ** digits).toFixed(digits));
  const fits = (read: number | undefined): read is number => read !== undefined && (mayBeNothing || read > 0);
  const example = formatMoney(14_900, currency);
  return (
    <Field
      label={`${label}, ${currency}`}
      inputMode="decimal"
      value={typed}
      wrong={fits(parseAmount(typed, currency)) ? wrong : `Give an amount${mayBeNothing ? "" : " above zero"}, such as ${example}.`}
      onChange={(event) => {
        setTyped(event.currentTarget.value);
        const read = parseAmount(event.currentTarget.value, currency);
        if (fits(read)) onChange(read);
      }}
      onBlur={onSettle}
    />
  );
};
