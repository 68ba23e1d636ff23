import { fill, fillSome, type CompiledPage, type Hole } from "../../core/pages";
import type { PageFacts } from "../../public/facts";
import { fillHole } from "../../public/fillHole";
import { sha256 } from "../platform";

/** A page with its holes filled, as a person sees it. */
export const renderPage = (compiled: CompiledPage, facts: PageFacts): string => fill(compiled, (hole) => fillHole(hole, facts));

// What hangs on the launch and its bells alone, not on who looks or on the very instant.
const steady = new Set<Hole["kind"]>(["price", "seats", "refundDays", "meta"]);
const timed = new Set<Hole["kind"]>(["bars", "inline", "card", "countdown"]);

interface Kept {
  seen: PageFacts["seen"];
  /** Bytes between the holes that are left. */
  parts: Buffer[];
  holes: Hole[];
  /** The page with nothing in those holes, and its entity tag. */
  plain: Buffer;
  etag: string;
}
// One page may answer several addresses at once, as the sales page does.
const kept = new WeakMap<CompiledPage, Map<string, Kept>>();

const prepare = (compiled: CompiledPage, facts: PageFacts): Kept => {
  const page = fillSome(compiled, (hole) => {
    if (steady.has(hole.kind)) return fillHole(hole, facts) ?? "";
    return timed.has(hole.kind) && !fillHole(hole, facts) ? "" : undefined;
  });
  const plain = fill(page, () => "");
  return {
    seen: facts.seen,
    parts: page.parts.map((part) => Buffer.from(part)),
    holes: page.holes,
    plain: Buffer.from(plain),
    etag: `"${sha256(plain)}"`,
  };
};

/**
 * The same page for a crowd, as bytes: what is alike for all who share a view is filled and encoded once, and only the
 * rest for each. A page on which nothing is left for the person or the instant has an entity tag (RFC 9110 §8.8.3).
 */
export const renderForAll = (compiled: CompiledPage, facts: PageFacts): { bytes: Buffer; etag?: string } => {
  let pages = kept.get(compiled);
  if (!pages) kept.set(compiled, (pages = new Map<string, Kept>()));
  let ready = pages.get(facts.address.slug);
  if (ready?.seen !== facts.seen) pages.set(facts.address.slug, (ready = prepare(compiled, facts)));
  const { parts, holes, plain, etag } = ready;
  let own = false;
  const chunks: Buffer[] = [parts[0]!];
  for (const [index, hole] of holes.entries()) {
    const filled = fillHole(hole, facts);
    if (filled) {
      own = true;
      chunks.push(Buffer.from(filled));
    }
    chunks.push(parts[index + 1]!);
  }
  return own ? { bytes: Buffer.concat(chunks) } : { bytes: plain, etag };
};
