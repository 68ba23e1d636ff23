import { useCallback, useState } from "react";
import {
  duplicateBlock,
  findBlock,
  insertBlock,
  moveBlock,
  newBlock,
  removeBlock,
  removeSection,
  stepBlock,
  stepSection,
  type BlockType,
  type Place,
  type Tree,
} from "../../../core/pages";
import { newId } from "./editing";
import type { Rect } from "./ProofFrame";

const sameRects = (a: Map<string, Rect>, b: Map<string, Rect>): boolean =>
  a.size === b.size &&
  [...b].every(([id, { top, left, width, height }]) => {
    const was = a.get(id);
    return was?.top === top && was.left === left && was.width === width && was.height === height;
  });

interface Asked<T extends Tree> {
  content: T;
  change: (change: (content: T) => T, key?: string) => void;
  /** Ends the step that is being typed. */
  settle: () => void;
}

/** The chosen block or section of a page or an email, where it stands on the proof, and all that moves blocks about. */
export const useBlocks = <T extends Tree>({ content, change, settle }: Asked<T>) => {
  const [selected, setSelected] = useState<string>();
  const [rects, setRects] = useState(new Map<string, Rect>());
  const [aim, setAim] = useState<{ id: string; below: boolean }>();
  const found = selected === undefined ? undefined : findBlock(content, selected);
  const section = content.sections.find(({ id }) => id === (found?.place.section ?? selected));
  const last = content.sections.at(-1);
  const here: Place | undefined = found ? { ...found.place, index: found.place.index + 1 } : section ? { section: section.id, index: 0 } : undefined;
  return {
    selected,
    setSelected,
    select: useCallback(
      (id: string | undefined) => {
        settle();
        setSelected(id);
      },
      [settle],
    ),
    found,
    section,
    last,
    rects,
    measured: useCallback((next: Map<string, Rect>) => setRects((now) => (sameRects(now, next) ? now : next)), []),
    rect: selected === undefined ? undefined : rects.get(selected),
    setAim,
    /** Where a dragged block would come to stand. */
    aimed: aim && rects.get(aim.id) ? { rect: rects.get(aim.id)!, below: aim.below } : undefined,
    move: useCallback((id: string, to: Place) => change((now) => moveBlock(now, id, to)), [change]),
    add: (place: Place, type: BlockType) => {
      const block = newBlock(type, newId);
      change((now) => insertBlock(now, place, block));
      setSelected(block.id);
    },
    /** Where a block is added: below the chosen one, else at the end. */
    addAt: here ?? (last && { section: last.id, index: last.blocks.length }),
    step: (by: -1 | 1) => change((now) => (found ? stepBlock(now, selected!, by) : stepSection(now, selected!, by))),
    duplicate: () => change((now) => duplicateBlock(now, selected!, newId)),
    remove: () => {
      change((now) => (found ? removeBlock(now, selected!) : removeSection(now, selected!)));
      setSelected(undefined);
    },
    /** The lower edge of all that stands on the proof. */
    bottom: Math.max(0, ...[...rects.values()].map(({ top, height }) => top + height)),
  };
};
export type Blocks = ReturnType<typeof useBlocks>;
