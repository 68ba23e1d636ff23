import { stringify } from "csv-stringify/browser/esm/sync";

/** Hands rows to the reader as a CSV file (RFC 4180), cells that a spreadsheet would take for a formula made plain. */
export const saveCsv = (name: string, header: string[], rows: (string | number)[][]): void => {
  const text = stringify([header, ...rows], { escape_formulas: true, record_delimiter: "windows" });
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: "text/csv;charset=utf-8" }));
  link.download = `${name}.csv`;
  link.click();
  URL.revokeObjectURL(link.href);
};
