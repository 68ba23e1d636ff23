import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
  type DragOverEvent,
} from "@dnd-kit/core";
import { SortableContext, sortableKeyboardCoordinates, useSortable } from "@dnd-kit/sortable";
import { memo, useMemo, useState } from "react";
import { blockKinds, findBlock, leavesOf, type Block, type Device, type PageGap, type Place, type Tree } from "../../../core/pages";
import styles from "./editor.module.css";
import type { Rect } from "./ProofFrame";

interface Label {
  block: Block;
  inside: boolean;
  top: number;
}

const labelsOf = (content: Tree, rects: Map<string, Rect>): Label[] => {
  const labels: Label[] = [];
  let next = 0;
  const put = (block: Block, inside: boolean) => {
    const top = Math.max(rects.get(block.id)?.top ?? next, next);
    next = top + 24;
    labels.push({ block, inside, top });
  };
  for (const { blocks } of content.sections) {
    for (const block of blocks) {
      put(block, false);
      if (block.type === "columns") for (const leaf of block.columns.flat()) put(leaf, true);
    }
  }
  return labels;
};

interface RowProps {
  id: string;
  name: string;
  top: number;
  inside: boolean;
  hidden: boolean;
  gap: boolean;
  selected: boolean;
  onSelect: (id: string) => void;
}

const Row = memo(({ id, name, top, inside, hidden, gap, selected, onSelect }: RowProps) => {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, isDragging } = useSortable({ id });
  const classes = [styles.label, inside && styles.inside, selected && styles.chosen, isDragging && styles.dragging].filter(Boolean).join(" ");
  return (
    <li ref={setNodeRef} className={classes} style={{ top }}>
      <button
        type="button"
        className={styles.name}
        aria-pressed={selected}
        onClick={() => onSelect(id)}
        data-block={id}
        aria-description={gap ? "Something is missing" : undefined}
      >
        {gap && (
          <span className={styles.gapMark} title="Something is missing" aria-hidden="true">
            !
          </span>
        )}
        {name}
        {hidden && <span className={styles.off}> not here</span>}
      </button>
      <button type="button" ref={setActivatorNodeRef} className={styles.handle} {...attributes} {...listeners} aria-label={`Move ${name}`} />
    </li>
  );
});
Row.displayName = "Row";

// Made once: with new options or another list every row of the margin would be drawn anew at each key.
const pointer = { activationConstraint: { distance: 4 } };
const keyboard = { coordinateGetter: sortableKeyboardCoordinates };
const still = () => null;

interface Props {
  content: Tree;
  rects: Map<string, Rect>;
  device: Device;
  selected?: string;
  /** What its blocks are of. */
  of?: "page" | "email";
  gaps: PageGap[];
  onSelect: (id: string) => void;
  onMove: (id: string, to: Place) => void;
  /** Where a dragged block would come to stand. */
  onAim: (aim: { id: string; below: boolean } | undefined) => void;
}

/** The names of the blocks beside the page, each at its height, with the handle by which it is moved. */
export const Margin = ({ content, rects, device, selected, of = "page", gaps, onSelect, onMove, onAim }: Props) => {
  const labels = useMemo(() => labelsOf(content, rects), [content, rects]);
  const order = labels.map(({ block }) => block.id).join(" ");
  const ids = useMemo(() => (order ? order.split(" ") : []), [order]);
  const lacking = useMemo(() => new Set(gaps.map(({ block }) => block)), [gaps]);
  const [dragging, setDragging] = useState<string>();
  const sensors = useSensors(useSensor(PointerSensor, pointer), useSensor(KeyboardSensor, keyboard));
  const nameOf = (id: string | number) => {
    const block = labels.find((label) => label.block.id === id)?.block;
    return block ? blockKinds[block.type].name : "block";
  };
  const below = (active: string, over: string) => ids.indexOf(active) < ids.indexOf(over);
  const end = ({ active, over }: DragEndEvent) => {
    setDragging(undefined);
    onAim(undefined);
    if (!over || over.id === active.id) return;
    const place = findBlock(content, String(over.id))?.place;
    if (place) onMove(String(active.id), { ...place, index: place.index + (below(String(active.id), String(over.id)) ? 1 : 0) });
  };
  const said = {
    onDragStart: ({ active }: { active: { id: string | number } }) =>
      `${nameOf(active.id)} is taken up. Arrows move it, space puts it down, escape puts it back.`,
    onDragOver: ({ active, over }: { active: { id: string | number }; over: { id: string | number } | null }) =>
      over && over.id !== active.id
        ? `${nameOf(active.id)} is ${below(String(active.id), String(over.id)) ? "below" : "above"} ${nameOf(over.id)}.`
        : undefined,
    onDragEnd: ({ active, over }: { active: { id: string | number }; over: { id: string | number } | null }) =>
      `${nameOf(active.id)} is put down${over ? ` at ${nameOf(over.id)}` : ""}.`,
    onDragCancel: ({ active }: { active: { id: string | number } }) => `${nameOf(active.id)} is back where it was.`,
  };
  return (
    <DndContext
      id="margin"
      sensors={sensors}
      collisionDetection={closestCenter}
      accessibility={{
        announcements: said,
        screenReaderInstructions: { draggable: "Space takes the block up; arrows move it; space puts it down." },
      }}
      onDragStart={({ active }) => setDragging(String(active.id))}
      onDragOver={({ active, over }: DragOverEvent) =>
        onAim(over && over.id !== active.id ? { id: String(over.id), below: below(String(active.id), String(over.id)) } : undefined)
      }
      onDragEnd={end}
      onDragCancel={() => {
        setDragging(undefined);
        onAim(undefined);
      }}
    >
      <SortableContext items={ids} strategy={still}>
        <ol
          className={dragging ? `${styles.margin} ${styles.moving}` : styles.margin}
          aria-label={`Blocks of the ${of}`}
          style={{ minHeight: (labels.at(-1)?.top ?? 0) + 40 }}
        >
          {labels.map(({ block, inside, top }) => (
            <Row
              key={block.id}
              id={block.id}
              name={blockKinds[block.type].name}
              top={top}
              inside={inside}
              hidden={block.hide.includes(device)}
              gap={lacking.has(block.id) || (block.type === "columns" && leavesOf([block]).some(({ id }) => lacking.has(id)))}
              selected={block.id === selected}
              onSelect={onSelect}
            />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
};
