/**
 * The same things, with names that can be told apart: one whose name another has too gets a `hint` in brackets, such as
 * its address. Two that share name and hint are numbered in their order.
 */
export const distinctNames = <T extends { name: string }>(things: readonly T[], hint: (thing: T) => string = () => ""): T[] => {
  const holders = new Map<string, number>();
  for (const { name } of things) holders.set(name.trim(), (holders.get(name.trim()) ?? 0) + 1);
  const hinted = things.map((thing) => {
    const name = thing.name.trim();
    const words = holders.get(name)! > 1 ? hint(thing) : "";
    return words ? `${name} (${words})` : name;
  });
  const taken = new Set(hinted);
  const numbered = new Map<string, number>();
  return things.map((thing, index) => {
    const name = hinted[index]!;
    let n = (numbered.get(name) ?? 0) + 1;
    while (n > 1 && taken.has(`${name} (${n})`)) n += 1;
    numbered.set(name, n);
    const distinct = n === 1 ? name : `${name} (${n})`;
    taken.add(distinct);
    return { ...thing, name: distinct };
  });
};
