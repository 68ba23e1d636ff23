import * as orders from "../../contract/orders";
import { useState, type FormEvent } from "react";
import { formatMoney } from "../kit/data/numbers";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { type Answer, call } from "../kit/data/call";
import { useAct } from "../kit/data/useAct";
import { useReady } from "../kit/data/useReady";
import { reloadSaying, say } from "../kit/notices";
import styles from "./money.module.css";

export interface OrderRecurringPayment {
  id: string;
  /** What is paid, how often, and how it stands, in words. */
  words: string;
  stands: string;
  runs: boolean;
}
interface Props {
  id: string;
  number: number;
  currency: string;
  email: string;
  /** What is left of each line; a marketplace's sales are given back by it. */
  lines: { id: string; name: string; left: number }[];
  recurringPayments: OrderRecurringPayment[];
  /** What is only held on the card, in minor units, and since when. */
  authorized: number;
  authorizedSince: string;
  mayRefund: boolean;
  mayWrite: boolean;
}

/** What came of refunds: given back, on their way, or refused by the processor. */
const refundWords = (refunds: readonly { state: string; minor: number }[], money: (minor: number) => string): string => {
  const sum = (state: string) => refunds.filter((one) => one.state === state).reduce((all, { minor }) => all + minor, 0);
  return [
    sum("succeeded") > 0 && `${money(sum("succeeded"))} refunded to the card.`,
    sum("pending") > 0 && `${money(sum("pending"))} are asked for; the processor has not answered yet, and is asked again by itself.`,
    sum("failed") > 0 && `${money(sum("failed"))} were refused by the processor.`,
  ]
    .filter(Boolean)
    .join(" ");
};

/** What can be done with an order: money given back by line or in all, later payments ended, the receipt sent again. */
export const OrderActions = ({ id, number, currency, email, lines, recurringPayments, authorized, authorizedSince, mayRefund, mayWrite }: Props) => {
  const ready = useReady();
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [amount, setAmount] = useState("");
  const [reason, setReason] = useState("");
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [busy, setBusy] = useState(false);
  const act = useAct();
  const left = lines.reduce((sum, line) => sum + line.left, 0);
  const money = (minor: number) => formatMoney(minor, currency);
  const refund = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    const answer = await call(orders.refundOrder, { params: { id }, request: { act: act(), lines: typed, amount, reason } });
    if (answer.ok) return reloadSaying(refundWords(answer.value.refunds, money));
    setBusy(false);
    setWrong(answer.fields);
    if (Object.keys(answer.fields).length === 0) say(answer.message, true);
  };
  const press = async (asked: () => Promise<Answer<unknown>>, done: string, again: boolean) => {
    setBusy(true);
    const answer = await asked();
    setBusy(false);
    if (!answer.ok) return say(answer.message, true);
    if (again) return reloadSaying(done);
    say(done);
  };
  const take = async () => {
    setBusy(true);
    const answer = await call(orders.captureAndFulfil, { params: { id } });
    if (answer.ok && answer.value.taken === answer.value.of) return reloadSaying(`${money(authorized)} captured. The order is marked as sent.`);
    setBusy(false);
    if (!answer.ok) return say(answer.message, true);
    say(
      "The processor has not captured all of it. Reload to see how each payment stands; it is asked again by itself where it did not answer.",
      true,
    );
  };
  return (
    <div inert={!ready}>
      {authorized > 0 && (
        <div className={styles.part}>
          <p>
            <strong>{money(authorized)}</strong> authorized on the card since {authorizedSince}, to be captured when the goods are sent.
          </p>
          <p className="muted">Banks release an authorization by themselves after about a week.</p>
          {mayRefund && (
            <p className={styles.actions}>
              <Button main disabled={busy} onClick={() => void take()}>
                Capture {money(authorized)} and mark as sent
              </Button>
            </p>
          )}
        </div>
      )}
      {recurringPayments.map((one) => (
        <div key={one.id} className={styles.part}>
          <p>{one.words}</p>
          <p className="muted">{one.stands}</p>
          {one.runs && mayRefund && (
            <p className={styles.actions}>
              <Button
                disabled={busy}
                onClick={() => void press(() => call(orders.endRecurringPayment, { params: { id: one.id } }), "These payments have ended.", true)}
              >
                End these payments
              </Button>
            </p>
          )}
        </div>
      ))}
      {mayWrite && (
        <p className={styles.actions}>
          <Button
            disabled={busy}
            onClick={() =>
              void press(() => call(orders.sendReceiptAgain, { params: { id } }), `The receipt of order ${number} goes to ${email} again.`, false)
            }
          >
            Send the receipt again
          </Button>
        </p>
      )}
      {mayRefund && left > 0 && (
        <details className={styles.give}>
          <summary>Refund</summary>
          <form noValidate onSubmit={(event) => void refund(event)}>
            <p className="muted">Up to {money(left)}. Tax and commission follow in proportion; the processor keeps its fee.</p>
            {lines
              .filter((line) => line.left > 0)
              .map((line) => (
                <Field
                  key={line.id}
                  label={`${line.name}, up to ${money(line.left)}`}
                  inputMode="decimal"
                  value={typed[line.id] ?? ""}
                  wrong={wrong[`lines.${line.id}`]}
                  onChange={(event) => setTyped({ ...typed, [line.id]: event.currentTarget.value })}
                />
              ))}
            {lines.length > 1 && (
              <Field
                label={`Or a total over all lines, ${currency}`}
                inputMode="decimal"
                value={amount}
                wrong={wrong["amount"]}
                onChange={(event) => setAmount(event.currentTarget.value)}
              />
            )}
            {lines.length === 1 && wrong["amount"] && <p role="alert">{wrong["amount"]}</p>}
            <Field label="Reason" value={reason} wrong={wrong["reason"]} onChange={(event) => setReason(event.currentTarget.value)} />
            <p className={styles.actions}>
              <Button main type="submit" disabled={busy}>
                Refund to the card
              </Button>
            </p>
          </form>
        </details>
      )}
    </div>
  );
};
