import { blockKinds } from "./blockKinds";
import type { BlockType } from "./blocks";

const all = Object.keys(blockKinds) as BlockType[];

/** The blocks that typed words mean: those named so first, then those with such a meaning. Nothing typed means all. */
export const blocksFor = (typed: string, types: readonly BlockType[] = all): BlockType[] => {
  const wanted = typed.trim().toLowerCase();
  if (!wanted) return [...types];
  const named = types.filter((type) => blockKinds[type].name.toLowerCase().startsWith(wanted));
  const meant = types.filter((type) => !named.includes(type) && blockKinds[type].finds.split(" ").some((word) => word.startsWith(wanted)));
  return [...named, ...meant];
};
