import { type AnswerOf } from "../../../contract/endpoint";
import { findPeople } from "../../../contract/people";
import { useEffect, useState } from "react";
import { Field } from "./Field";
import { call } from "../data/call";
import styles from "../kit.module.css";

export type FoundPerson = AnswerOf<typeof findPeople>["people"][number];

/** Finds a person of a launch by the beginning of a first name or an address. */
export const PersonFinder = ({ slug, onFound }: { slug: string; onFound: (person: FoundPerson) => void }) => {
  const [typed, setTyped] = useState("");
  const [people, setPeople] = useState<FoundPerson[]>();
  useEffect(() => {
    if (typed.trim().length < 2) return setPeople(undefined);
    const timer = setTimeout(async () => {
      const answer = await call(findPeople, { params: { slug }, request: { find: typed } });
      setPeople(answer.ok ? answer.value.people : []);
    }, 250);
    return () => clearTimeout(timer);
  }, [typed, slug]);
  return (
    <div>
      <Field
        label="Or a person by name"
        value={typed}
        placeholder="name or address"
        autoComplete="off"
        onChange={(event) => setTyped(event.currentTarget.value)}
      />
      {people && (
        <ul className={styles.found} aria-label="People found">
          {people.map((person) => (
            <li key={person.id}>
              <button
                type="button"
                onClick={() => {
                  setTyped("");
                  onFound(person);
                }}
              >
                {person.name} <span>{person.email}</span>
              </button>
            </li>
          ))}
          {people.length === 0 && <li className="muted">Nobody of this launch begins so.</li>}
        </ul>
      )}
    </div>
  );
};
