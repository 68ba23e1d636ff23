/**
 * The same things, with names that can be told apart: one whose name another has too gets a `hint` in brackets, such as
 * its address. Two that share name and hint are numbered in their order.
 */
export const distinctNames = <T extends { name: string }>(things: readonly T[], hint: (thing: T) => string = () => ""): T[] => {
  const count = (names: readonly string[]) => {
    const counts = new Map<string, number>();
    for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1);
    return counts;
  };
  const plain = count(things.map(({ name }) => name.trim()));
  const hinted = things.map((thing) => {
    const name = thing.name.trim();
    const words = (plain.get(name) ?? 0) > 1 ? hint(thing) : "";
    return words ? `${name} (${words})` : name;
  });
  const shared = count(hinted);
  const taken = new Set(hinted);
  const numbered = new Map<string, number>();
  return things.map((thing, index) => {
    const name = hinted[index]!;
    const first = !numbered.has(name);
    if (first) numbered.set(name, 1);
    if (shared.get(name) === 1 || first) return { ...thing, name };
    let n = numbered.get(name)! + 1;
    while (taken.has(`${name} (${n})`)) n += 1;
    numbered.set(name, n);
    taken.add(`${name} (${n})`);
    return { ...thing, name: `${name} (${n})` };
  });
};
