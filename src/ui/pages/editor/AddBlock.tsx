import { useId, useState } from "react";
import { blockKinds, blocksFor, type BlockType } from "../../../core/pages";
import styles from "./editor.module.css";

interface Props {
  /** What may stand there: columns hold no columns. */
  types?: readonly BlockType[];
  onAdd: (type: BlockType) => void;
}

/** The dashed rule where a new block will stand: its name is typed there. */
export const AddBlock = ({ types, onAdd }: Props) => {
  const id = useId();
  const [typed, setTyped] = useState("");
  const [open, setOpen] = useState(false);
  const [at, setAt] = useState(0);
  const found = blocksFor(typed, types);
  const add = (type: BlockType | undefined) => {
    if (!type) return;
    setTyped("");
    setOpen(false);
    onAdd(type);
  };
  return (
    <div className={styles.add}>
      <label htmlFor={id}>type here to add a block:</label>
      <input
        id={id}
        role="combobox"
        aria-expanded={open}
        aria-controls={`${id}-list`}
        aria-activedescendant={open && found[at] ? `${id}-${found[at]}` : undefined}
        autoComplete="off"
        placeholder="video, form, price…"
        value={typed}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onChange={(event) => {
          setTyped(event.currentTarget.value);
          setAt(0);
          setOpen(true);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown" || event.key === "ArrowUp") {
            event.preventDefault();
            setOpen(true);
            setAt((now) => Math.max(0, Math.min(found.length - 1, now + (event.key === "ArrowDown" ? 1 : -1))));
          } else if (event.key === "Enter") {
            event.preventDefault();
            add(found[at]);
          } else if (event.key === "Escape") setOpen(false);
        }}
      />
      {open && (
        <ul id={`${id}-list`} role="listbox" aria-label="Blocks">
          {found.map((type, index) => (
            <li
              key={type}
              id={`${id}-${type}`}
              role="option"
              aria-selected={index === at}
              onPointerDown={(event) => {
                event.preventDefault();
                add(type);
              }}
            >
              <b>{blockKinds[type].name}</b> {blockKinds[type].says}
            </li>
          ))}
          {found.length === 0 && (
            <li role="option" aria-selected={false} aria-disabled="true">
              No block is called that.
            </li>
          )}
        </ul>
      )}
    </div>
  );
};
