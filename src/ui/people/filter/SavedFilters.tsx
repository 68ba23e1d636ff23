import { useState } from "react";
import { changeFilter, deleteFilter, saveFilter, type SavedFilter } from "../../../contract/people";
import { Button } from "../../kit/Button";
import { call } from "../../kit/data/call";
import { say } from "../../kit/notices";
import kit from "../../kit/kit.module.css";
import styles from "./filter.module.css";

interface Props {
  filters: readonly SavedFilter[];
  /** What the list shows now. */
  who: string;
}

/** The filters that were saved, each with how many people it finds now. */
export const SavedFilters = ({
  filters,
  counts,
  who,
  onChoose,
}: Props & { counts: Record<string, number> | undefined; onChoose: (filter?: SavedFilter) => void }) => (
  <ul className={styles.saved} aria-label="Saved filters">
    <li>
      <button type="button" aria-pressed={who === ""} onClick={() => onChoose()}>
        Everybody
      </button>
    </li>
    {filters.map((filter) => (
      <li key={filter.id}>
        <button type="button" aria-pressed={filter.who === who} onClick={() => onChoose(filter)}>
          {filter.name}
        </button>{" "}
        <span className="muted">{counts?.[filter.id]?.toLocaleString("en")}</span>
      </li>
    ))}
  </ul>
);

interface Keeping extends Props {
  /** The filter that was chosen last, and may be changed to what is shown. */
  changing: SavedFilter | undefined;
  onDone: () => void;
}

/** Saves what is shown as a filter, has the one that was chosen ask for it, or deletes it. */
export const KeepFilter = ({ filters, who, changing, onDone }: Keeping) => {
  const [name, setName] = useState("");
  const [wrong, setWrong] = useState<string>();
  const shown = filters.find((filter) => filter.who === who);
  const done = (words: string) => {
    setName("");
    setWrong(undefined);
    onDone();
    say(words);
  };
  const save = async () => {
    const answer = await call(saveFilter, { request: { name, who } });
    if (!answer.ok) return setWrong(answer.fields["name"] ?? answer.message);
    done(`“${name.trim()}” is saved.`);
  };
  const change = async ({ id, name: old }: SavedFilter) => {
    const answer = await call(changeFilter, { params: { id }, request: { who } });
    if (!answer.ok) return say(answer.message, true);
    done(`“${old}” asks for what is shown now.`);
  };
  const remove = async ({ id, name: old }: SavedFilter) => {
    const answer = await call(deleteFilter, { params: { id } });
    if (!answer.ok) return say(answer.message, true);
    done(`“${old}” is deleted. The people it found stay as they are.`);
  };
  if (shown)
    return (
      <Button destructive onClick={() => void remove(shown)}>
        Delete “{shown.name}”
      </Button>
    );
  return (
    <>
      <form
        className={styles.name}
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
      >
        <input
          className={kit.control}
          aria-label="Name for this filter"
          placeholder="name for this filter"
          aria-invalid={wrong ? true : undefined}
          aria-describedby={wrong ? "filter-name-wrong" : undefined}
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <Button type="submit">Save this filter</Button>
        {wrong && (
          <span id="filter-name-wrong" className={kit.wrong} role="alert">
            {wrong}
          </span>
        )}
      </form>
      {changing && <Button onClick={() => void change(changing)}>Change “{changing.name}” to this</Button>}
    </>
  );
};
