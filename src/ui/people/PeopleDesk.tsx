import { useMemo, useState } from "react";
import { countFilters, listFilters, listPeople, tagAllPeople, tagPeople, type PeopleAsked, type SavedFilter } from "../../contract/people";
import { peopleSorts, type PersonRow } from "../../core/people";
import { counted } from "../../core/words";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { useParts, useRead } from "../kit/data/useRead";
import { useReady } from "../kit/data/useReady";
import { EmptyState } from "../kit/EmptyState";
import { Field } from "../kit/fields/Field";
import { readSort, writeSort } from "../kit/table/address";
import { DataTable } from "../kit/table/DataTable";
import { listWords } from "./entryWords";
import { PeopleFilter } from "./filter/PeopleFilter";
import type { FilterChoices } from "./filter/RowDetails";
import { KeepFilter, SavedFilters } from "./filter/SavedFilters";
import styles from "./people.module.css";
import { peopleColumns } from "./peopleColumns";
import { TagPeople } from "./TagPeople";

interface Props {
  asked: PeopleAsked;
  /** The query of the address, with the moment that the screen shows. */
  search: string;
  first: { people: PersonRow[]; all: number; mayWrite: number; next?: string | undefined };
  zone: string;
  choices: FilterChoices;
  filters: SavedFilter[];
  mayEdit: boolean;
  mayExport: boolean;
}

/** What is asked, as it stands in an address beside what else stands there; what is asked anyway is left out. */
const addressOf = (path: string, search: string, { find, who, sort }: PeopleAsked): string => {
  const query = new URLSearchParams(search);
  const put = (name: string, value: string, usual: string) => (value === usual ? query.delete(name) : query.set(name, value));
  put("find", find, "");
  put("who", who, "");
  put("sort", sort, "-since");
  return query.size > 0 ? `${path}?${query}` : path;
};

/** Everybody with an address: found by typing, sorted, read to the last one, tagged. */
export const PeopleDesk = ({ asked: sent, search, first, zone, choices, filters, mayEdit, mayExport }: Props) => {
  const ready = useReady();
  const [asked, setAsked] = useState(sent);
  const [saved, setSaved] = useState(filters);
  const filterCounts = useRead(countFilters, {});
  const [chosen, setChosen] = useState<SavedFilter>();
  const { parts, loading, more, failure, again } = useParts(listPeople, asked, { request: sent, answer: first }, ({ next }) => next);
  const people = useMemo(() => parts.flatMap((part) => part.people), [parts]);
  const columns = useMemo(() => peopleColumns(zone, choices.countries), [zone, choices.countries]);
  const change = (part: Partial<PeopleAsked>) => {
    const next = { ...asked, ...part };
    setAsked(next);
    history.replaceState(history.state, "", addressOf(location.pathname, location.search, next));
  };
  const counts = parts[0] ?? first;
  return (
    <>
      <p className={`muted ${styles.counts}`} role="status">
        {listWords(counts.all, counts.mayWrite)}
      </p>
      <div className={styles.find} inert={!ready}>
        <Field
          label="Find by name or address"
          type="search"
          value={asked.find}
          onChange={(event) => change({ find: event.currentTarget.value.slice(0, 80) })}
        />
        <SavedFilters
          filters={saved}
          counts={filterCounts.value?.people}
          who={asked.who}
          onChoose={(filter) => {
            setChosen(filter);
            change({ who: filter?.who ?? "" });
          }}
        />
      </div>
      <div inert={!ready}>
        <PeopleFilter who={asked.who} choices={choices} onChange={(who) => change({ who })}>
          {mayEdit && asked.who !== "" && (
            <KeepFilter
              filters={saved}
              who={asked.who}
              changing={saved.find(({ id }) => id === chosen?.id)}
              onDone={() => {
                filterCounts.again();
                void call(listFilters, {}).then((answer) => answer.ok && setSaved(answer.value.filters));
              }}
            />
          )}
          {mayEdit && asked.who !== "" && <a href={`/desk/people/rules?${new URLSearchParams({ who: asked.who })}`}>Make a rule of it</a>}
          {mayEdit && counts.all > 0 && (asked.who !== "" || asked.find !== "") && (
            <TagPeople
              of={`all ${counted(counts.all, "person", "people")} found`}
              label="Tag for all who are found"
              send={(tag, set) => call(tagAllPeople, { request: { find: asked.find, who: asked.who, tag, set } })}
              onTagged={again}
            />
          )}
        </PeopleFilter>
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
                <TagPeople
                  of={counted(ticked.length, "person", "people")}
                  label="Tag for those that are ticked"
                  send={(tag, set) => call(tagPeople, { request: { people: ticked.map(({ id }) => id), tag, set } })}
                  onTagged={again}
                />
              )
            : undefined
        }
        empty={
          asked.find || asked.who ? (
            <EmptyState
              title="Nobody is found"
              says={
                asked.find
                  ? `No name or address contains “${asked.find}”${asked.who && " among those who meet the filter"}.`
                  : "Nobody meets this filter."
              }
            >
              <Button onClick={() => change({ find: "", who: "" })}>Show everybody</Button>
            </EmptyState>
          ) : (
            <EmptyState title="People will stand here" says="Everybody who opts in, begins a checkout or buys, with all that is known of them." />
          )
        }
      />
    </>
  );
};
