import { useState } from "react";
import { grantAccess, readAccess, revokeAccess } from "../../contract/delivery";
import type { AnswerOf } from "../../contract/endpoint";
import type { OwnedProduct } from "../../core/delivery";
import { resolveWallTime } from "../../core/launch";
import { shortMoment } from "../../core/words";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { Dialog } from "../kit/Dialog";
import { DateTimeField } from "../kit/fields/DateTimeField";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import { say } from "../kit/notices";
import { endWords, statusWords, viaWords } from "./accessWords";
import styles from "./delivery.module.css";

type Access = AnswerOf<typeof readAccess>;
interface Props {
  person: string;
  first: Access;
  zone: string;
  mayGrant: boolean;
}

/** What a person owns or owned: whether it is open to them, why, and since when; and what is given to them without an order. */
export const AccessOfPerson = ({ person, first, zone, mayGrant }: Props) => {
  const [{ owned, products }, setAccess] = useState(first);
  const [revoking, setRevoking] = useState<{ grant: string; product: string }>();
  const again = async () => {
    const answer = await call(readAccess, { params: { id: person } });
    if (answer.ok) setAccess(answer.value);
  };
  if (owned.length === 0 && !mayGrant) return null;
  return (
    <section aria-label="Owns" className={styles.access}>
      <h2>Owns</h2>
      {owned.length === 0 && <p className="muted">Nothing was bought or given yet.</p>}
      <ul>
        {owned.map((one) => (
          <li key={one.id}>
            <Owned one={one} zone={zone} />
            {mayGrant && one.open && one.via.kind === "grant" && (
              <Button onClick={() => setRevoking({ grant: one.via.id, product: one.product })}>Revoke it</Button>
            )}
          </li>
        ))}
      </ul>
      {mayGrant && <GiveAccess person={person} products={products} zone={zone} onGiven={again} />}
      {revoking && <RevokeAccess person={person} {...revoking} onDone={again} onClose={() => setRevoking(undefined)} />}
    </section>
  );
};

const Owned = ({ one, zone }: { one: OwnedProduct; zone: string }) => (
  <>
    <b>{one.product}</b>{" "}
    {one.via.kind === "order" ? <a href={`/desk/orders/${one.via.id}`}>{viaWords(one.via)}</a> : <span>{viaWords(one.via)}</span>}
    <p className={one.open ? "muted" : styles.closed}>{statusWords(one, zone)}</p>
    <details>
      <summary>Why, and since when</summary>
      <ol className={styles.log}>
        {one.log.map(({ at, open, because, via }) => (
          <li key={at.toISOString()}>
            <time dateTime={at.toISOString()}>{shortMoment(at, zone)}</time> {open ? "opened" : `closed: ${endWords(because!, via)}`},{" "}
            <span className="muted">{viaWords(via)}</span>
          </li>
        ))}
      </ol>
    </details>
  </>
);

const GiveAccess = ({
  person,
  products,
  zone,
  onGiven,
}: {
  person: string;
  products: Access["products"];
  zone: string;
  onGiven: () => Promise<void>;
}) => {
  const empty = { product: "", ends: false, until: "", reason: "" };
  const [typed, setTyped] = useState(empty);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  // One press of this form, however often it is sent.
  const [act, setAct] = useState(() => crypto.randomUUID());
  const give = async () => {
    const end = resolveWallTime(typed.until, zone);
    // A moment that is typed by half is none; it must not mean for good.
    const until = typed.ends ? ("instant" in end ? end.instant : "") : null;
    const answer = await call(grantAccess, { params: { id: person }, request: { act, product: typed.product, until, reason: typed.reason } });
    if (!answer.ok) {
      setWrong(answer.fields);
      return Object.keys(answer.fields).length === 0 && say(answer.message, true);
    }
    setWrong({});
    setTyped(empty);
    setAct(crypto.randomUUID());
    await onGiven();
    say("Access is given.");
  };
  return (
    <details>
      <summary>Give access without an order</summary>
      <form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          void give();
        }}
      >
        <Select
          label="Product"
          value={typed.product}
          wrong={wrong["product"]}
          options={[{ value: "", label: "choose" }, ...products.map(({ id, name }) => ({ value: id, label: name }))]}
          onChange={(product) => setTyped({ ...typed, product })}
        />
        <Select
          label="How long"
          value={typed.ends ? "until" : "for_good"}
          options={[
            { value: "for_good", label: "for good" },
            { value: "until", label: "until a moment" },
          ]}
          onChange={(long) => setTyped({ ...typed, ends: long === "until" })}
        />
        {typed.ends && (
          <DateTimeField
            label="Until"
            value={typed.until}
            zone={zone}
            wrong={wrong["until"]}
            onChange={(until) => setTyped((was) => ({ ...was, until }))}
          />
        )}
        <Field
          label="Why"
          value={typed.reason}
          wrong={wrong["reason"]}
          onChange={(event) => setTyped({ ...typed, reason: event.currentTarget.value })}
        />
        <p className={styles.after}>
          <Button type="submit">Give access</Button>
        </p>
      </form>
    </details>
  );
};

interface RevokeProps {
  person: string;
  grant: string;
  product: string;
  onDone: () => Promise<void>;
  onClose: () => void;
}

const RevokeAccess = ({ person, grant, product, onDone, onClose }: RevokeProps) => {
  const [reason, setReason] = useState("");
  const [wrong, setWrong] = useState<string>();
  const revoke = async () => {
    const answer = await call(revokeAccess, { params: { id: person, grant }, request: { reason } });
    if (!answer.ok) return answer.fields["reason"] ? setWrong(answer.fields["reason"]) : say(answer.message, true);
    onClose();
    await onDone();
    say("The access is revoked.");
  };
  return (
    <Dialog title={`Revoke access to ${product}`} confirm="Revoke it" destructive onConfirm={() => void revoke()} onClose={onClose}>
      <p>What they bought of it stays theirs.</p>
      <Field label="Why" autoFocus value={reason} wrong={wrong} onChange={(event) => setReason(event.currentTarget.value)} />
    </Dialog>
  );
};
