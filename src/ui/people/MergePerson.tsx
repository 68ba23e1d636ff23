import { useEffect, useState } from "react";
import { listPeople, mergePeople, readMerge } from "../../contract/people";
import type { MergeFacts, PersonRow } from "../../core/people";
import { counted } from "../../core/words";
import { call } from "../kit/data/call";
import { Dialog } from "../kit/Dialog";
import { Field } from "../kit/fields/Field";
import kit from "../kit/kit.module.css";
import { goSaying, say } from "../kit/notices";

const most = 8;

/** Merges a person's record with another of theirs, once what that changes has been read. */
export const MergePerson = ({ id }: { id: string }) => {
  const [typed, setTyped] = useState("");
  const [found, setFound] = useState<PersonRow[]>();
  const [asked, setAsked] = useState<{ other: PersonRow; facts: MergeFacts }>();
  useEffect(() => {
    if (typed.trim().length < 2) return setFound(undefined);
    const timer = setTimeout(async () => {
      const answer = await call(listPeople, { request: { find: typed.slice(0, 80) } });
      setFound(answer.ok ? answer.value.people.filter((one) => one.id !== id).slice(0, most) : []);
    }, 250);
    return () => clearTimeout(timer);
  }, [typed, id]);
  const ask = async (other: PersonRow) => {
    const answer = await call(readMerge, { params: { id }, request: { with: other.id } });
    if (!answer.ok) return say(answer.message, true);
    setAsked({ other, facts: answer.value });
  };
  const merge = async (other: PersonRow) => {
    const answer = await call(mergePeople, { params: { id }, request: { with: other.id } });
    if (!answer.ok) return say(answer.message, true);
    goSaying(`/desk/people/${answer.value.id}`, "The two records are one.");
  };
  const { facts, other } = asked ?? {};
  return (
    <>
      <Field
        label="Merge with another record of theirs"
        type="search"
        placeholder="name or address"
        autoComplete="off"
        value={typed}
        onChange={(event) => setTyped(event.currentTarget.value)}
      />
      {found && (
        <ul className={kit.found} aria-label="Records found">
          {found.map((one) => (
            <li key={one.id}>
              <button type="button" onClick={() => void ask(one)}>
                {one.name} <span>{one.email}</span>
              </button>
            </li>
          ))}
          {found.length === 0 && <li className="muted">Nobody else is found.</li>}
        </ul>
      )}
      {facts && other && (
        <Dialog title="Merge two records" confirm="Merge for good" onConfirm={() => void merge(other)} onClose={() => setAsked(undefined)}>
          <p>
            <b>{facts.keeps}</b>, the older record, is kept; <b>{facts.joins}</b> leads to it from then on, and emails go to {facts.keeps}. What only
            the other holds is filled in.
          </p>
          <p>
            {counted(facts.orders, "order", "orders")}, {counted(facts.emails, "email that waits", "emails that wait")},{" "}
            {counted(facts.tags, "tag", "tags")} and what was done in {counted(facts.launches, "launch", "launches")} move along. Where a clock runs
            for both, the one that began earlier counts. Commissions that are booked stay as they are.
          </p>
          {facts.unsubscribed && <p>The other record has unsubscribed: no more emails go to either.</p>}
        </Dialog>
      )}
    </>
  );
};
