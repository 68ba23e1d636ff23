/**
 * Solves `a · x = b` for several right-hand sides by elimination with pivoting. Rows of `a` and `b` are changed.
 * Throws a RangeError where `a` is singular.
 */
const solve = (a: number[][], b: number[][]): number[][] => {
  const n = a.length;
  for (let column = 0; column < n; column += 1) {
    let pivot = column;
    for (let row = column + 1; row < n; row += 1) if (Math.abs(a[row]![column]!) > Math.abs(a[pivot]![column]!)) pivot = row;
    if (Math.abs(a[pivot]![column]!) < 1e-12) throw new RangeError("absorbing chain: from some state no end is ever reached");
    [a[column], a[pivot]] = [a[pivot]!, a[column]!];
    [b[column], b[pivot]] = [b[pivot]!, b[column]!];
    for (let row = 0; row < n; row += 1) {
      if (row === column) continue;
      const factor = a[row]![column]! / a[column]![column]!;
      if (factor === 0) continue;
      for (let k = column; k < n; k += 1) a[row]![k]! -= factor * a[column]![k]!;
      for (let k = 0; k < b[row]!.length; k += 1) b[row]![k]! -= factor * b[column]![k]!;
    }
  }
  return b.map((row, i) => row.map((value) => value / a[i]![i]!));
};

/**
 * An absorbing Markov chain. `among[i][j]` is the chance to go from one passing state to another, `into[i][k]` that of
 * going into an end. Answers how often each state is visited from each start (the fundamental matrix N = (I − Q)⁻¹) and the
 * chance to end in each end (N · R). Grinstead & Snell, Introduction to Probability, §11.2.
 */
export const absorbingChain = (among: number[][], into: number[][]): { visits: number[][]; ends: number[][] } => {
  const n = among.length;
  const identity = among.map((row, i) => row.map((_, j) => (i === j ? 1 : 0)));
  const solved = solve(
    among.map((row, i) => row.map((chance, j) => (i === j ? 1 : 0) - chance)),
    identity.map((row, i) => [...row, ...into[i]!]),
  );
  return { visits: solved.map((row) => row.slice(0, n)), ends: solved.map((row) => row.slice(n)) };
};
