import { useMemo, useState } from "react";
import { listPeople, tagPeople, type PeopleAsked } from "../../contract/people";
import { peopleSorts, type PersonRow } from "../../core/people";
import { counted } from "../../core/words";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { useParts } from "../kit/data/useRead";
import { useReady } from "../kit/data/useReady";
import { EmptyState } from "../kit/EmptyState";
import { Field } from "../kit/fields/Field";
import { say } from "../kit/notices";
import { readSort, writeSort } from "../kit/table/address";
import { DataTable } from "../kit/table/DataTable";
import { listWords } from "./entryWords";
import styles from "./people.module.css";
import { peopleColumns } from "./peopleColumns";

interface Props {
  asked: PeopleAsked;
  /** The query of the address, with the moment that the screen shows. */
  search: string;
  first: { people: PersonRow[]; all: number; mayWrite: number; next?: string | undefined };
  zone: string;
  countries: Record<string, string>;
  mayEdit: boolean;
  mayExport: boolean;
}

/** What is asked, as it stands in an address beside what else stands there; what is asked anyway is left out. */
const addressOf = (path: string, search: string, { find, sort }: PeopleAsked): string => {
  const query = new URLSearchParams(search);
  const put = (name: string, value: string, usual: string) => (value === usual ? query.delete(name) : query.set(name, value));
  put("find", find, "");
  put("sort", sort, "-since");
  return query.size > 0 ? `${path}?${query}` : path;
};

/** Everybody with an address: found by typing, sorted, read to the last one, tagged. */
export const PeopleDesk = ({ asked: sent, search, first, zone, countries, mayEdit, mayExport }: Props) => {
  const ready = useReady();
  const [asked, setAsked] = useState(sent);
  const { parts, loading, more, failure } = useParts(listPeople, asked, { request: sent, answer: first }, ({ next }) => next);
  const [tagged, setTagged] = useState<Record<string, string[]>>({});
  const people = useMemo(
    () => parts.flatMap((part) => part.people).map((one) => ({ ...one, tags: [...new Set([...one.tags, ...(tagged[one.id] ?? [])])].sort() })),
    [parts, tagged],
  );
  const columns = useMemo(() => peopleColumns(zone, countries), [zone, countries]);
  const change = (part: Partial<PeopleAsked>) => {
    const next = { ...asked, ...part };
    setAsked(next);
    history.replaceState(history.state, "", addressOf(location.pathname, location.search, next));
  };
  const counts = parts[0] ?? first;
  return (
    <>
      <p className="muted" role="status">
        {listWords(counts.all, counts.mayWrite)}
      </p>
      <div className={styles.find} inert={!ready}>
        <Field
          label="Find by name or address"
          type="search"
          value={asked.find}
          onChange={(event) => change({ find: event.currentTarget.value.slice(0, 80) })}
        />
      </div>
      {failure && <p role="alert">{failure}</p>}
      <DataTable
        name="People"
        of={["person", "people"]}
        columns={columns}
        rows={people}
        rowKey={({ id }) => id}
        remote={{
          all: counts.all,
          loading,
          more,
          sort: readSort(asked.sort, peopleSorts)!,
          onSort: (sort) => change({ sort: writeSort(sort) as PeopleAsked["sort"] }),
          file: mayExport ? addressOf("/desk/people/list.csv", search, asked) : undefined,
        }}
        chosen={
          mayEdit
            ? (ticked) => (
                <TagThem
                  people={ticked}
                  onTagged={(tag) => setTagged((now) => ({ ...now, ...Object.fromEntries(ticked.map(({ id }) => [id, [...(now[id] ?? []), tag]])) }))}
                />
              )
            : undefined
        }
        empty={
          asked.find ? (
            <EmptyState title="Nobody is found" says={`No name or address contains “${asked.find}”.`}>
              <Button onClick={() => change({ find: "" })}>Show everybody</Button>
            </EmptyState>
          ) : (
            <EmptyState title="People will stand here" says="Everybody who opts in, begins a checkout or buys, with all that is known of them." />
          )
        }
      />
    </>
  );
};

/** A tag for all that are ticked. */
const TagThem = ({ people, onTagged }: { people: PersonRow[]; onTagged: (tag: string) => void }) => {
  const [typed, setTyped] = useState("");
  const set = async () => {
    const answer = await call(tagPeople, { request: { people: people.map(({ id }) => id), tag: typed, set: true } });
    if (!answer.ok) return say(answer.fields["tag"] ?? answer.message, true);
    onTagged(typed.trim());
    setTyped("");
    say(`${counted(answer.value.n, "person was", "people were")} tagged “${typed.trim()}”.`);
  };
  return (
    <form
      className={styles.tagging}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void set();
      }}
    >
      <input aria-label="Tag for those that are ticked" placeholder="a tag" value={typed} onChange={(event) => setTyped(event.currentTarget.value)} />
      <button type="submit">Tag {counted(people.length, "person", "people")}</button>
    </form>
  );
};
