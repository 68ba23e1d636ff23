/** The places of a compiled page that are filled for each request. */
export const holes = ["bars", "inline", "card", "price", "notice", "form"] as const;
export type Hole = (typeof holes)[number];

/** A page ready to send: text between holes. `parts[0]`, hole, `parts[1]`, hole, … */
export interface CompiledPage {
  parts: string[];
  holes: Hole[];
}

/** The page's bytes as text, its holes filled with ready HTML; a hole without a filling is empty. */
export const fill = (page: CompiledPage, fillings: Partial<Record<Hole, string>>): string => {
  let html = page.parts[0] ?? "";
  page.holes.forEach((hole, index) => {
    html += (fillings[hole] ?? "") + (page.parts[index + 1] ?? "");
  });
  return html;
};
