import { stringify } from "csv-stringify/sync";

/**
 * A CSV file (RFC 4180) that is written while it is read: batches of rows come as they are asked for, so that a file of
 * any length takes little memory. A column is headed by its key, or by a head of its own. Cells that a spreadsheet would run are neutralised.
 */
export const csvResponse = (
  name: string,
  columns: readonly (string | { key: string; header: string })[],
  batches: AsyncIterable<Record<string, unknown>[]>,
): Response => {
  const options = { columns: [...columns], escape_formulas: true, record_delimiter: "windows" } as const;
  const rows = batches[Symbol.asyncIterator]();
  const encoder = new TextEncoder();
  let begun = false;
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      if (!begun) {
        begun = true;
        return controller.enqueue(encoder.encode(stringify([], { ...options, header: true })));
      }
      const next = await rows.next();
      if (next.done) controller.close();
      else controller.enqueue(encoder.encode(stringify(next.value, options)));
    },
    async cancel() {
      await rows.return?.();
    },
  });
  return new Response(body, { headers: { "content-type": "text/csv; charset=utf-8", "content-disposition": `attachment; filename="${name}"` } });
};
