import {
  columnFilteringFeature,
  createFilteredRowModel,
  createSortedRowModel,
  filterFn_includesString,
  globalFilteringFeature,
  rowSelectionFeature,
  rowSortingFeature,
  sortFn_alphanumeric,
  sortFn_text,
  tableFeatures,
  useTable,
  type ColumnDef,
  type RowData,
  type RowSelectionState,
} from "@tanstack/react-table";
import { useWindowVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { counted } from "../../../core/words";
import kit from "../kit.module.css";
import { cellClass, headClass, type Column } from "../Table";
import { useReady } from "../data/useReady";
import { saveCsv } from "./saveCsv";
import { keepInAddress, readSort, writeSort, type Sort } from "./address";
import { Arrow, byArrows, Space } from "./rows";
import styles from "./DataTable.module.css";

const features = tableFeatures({
  rowSortingFeature,
  columnFilteringFeature,
  globalFilteringFeature,
  rowSelectionFeature,
  sortedRowModel: createSortedRowModel(),
  filteredRowModel: createFilteredRowModel(),
  sortFns: { alphanumeric: sortFn_alphanumeric, text: sortFn_text },
  filterFns: { includesString: filterFn_includesString },
});

export interface DataColumn<Row> extends Column<Row> {
  id: string;
  /** What it is sorted and found by, and what stands in the file: a moment as ISO 8601. */
  value: (row: Row) => string | number;
  /** What stands in the file, where it is not what it is sorted by. */
  file?: (row: Row) => string;
}

/** A list of which the server sends one part after the other, in the order that is asked for. */
export interface RemoteRows {
  /** How many there are in all. */
  all: number;
  loading: boolean;
  /** Brings the next rows; absent where all are there. */
  more?: (() => void) | undefined;
  sort: Sort;
  onSort: (sort: Sort) => void;
  /** The address of the file with all of them; absent where whoever looks may not take them away. */
  file?: string | undefined;
}

interface Props<Row> {
  /** Says to a screen reader what it lists; also the name of the file. */
  name: string;
  /** One of its rows, and several. */
  of: readonly [string, string];
  columns: DataColumn<Row>[];
  rows: Row[];
  rowKey: (row: Row) => string;
  /** Where the rows stand at the server; else all are here, and are sorted and filtered here. */
  remote?: RemoteRows;
  /** What is shown where there are none. */
  empty: ReactNode;
  /** What can be done with one row, in a column of its own. */
  actions?: (row: Row) => ReactNode;
  /** Rows can be ticked; what can be done with those that are. */
  chosen?: (rows: Row[]) => ReactNode;
  /** Fewer rows than these need no field to find one. */
  findFrom?: number;
}

// So many rows stand whole in the page; longer lists draw those in sight.
const drawnWhole = 60;

/**
 * A ruled list of any length: sorted by a press on a column, found in by typing, its rows drawn as they come into sight,
 * and taken away as a file. Says how many there are. Sort and search stand in the address.
 */
export const DataTable = <Row extends RowData>({ name, of, columns, rows, rowKey, remote, empty, actions, chosen, findFrom = 8 }: Props<Row>) => {
  const ready = useReady();
  const body = useRef<HTMLTableSectionElement>(null);
  const [localSort, setLocalSort] = useState<Sort>();
  const [find, setFind] = useState("");
  const [ticked, setTicked] = useState<RowSelectionState>({});
  const ids = columns.map((column) => column.id).join(" ");
  useEffect(() => {
    if (remote !== undefined) return;
    const asked = new URLSearchParams(location.search);
    setLocalSort(readSort(asked.get("sort"), ids.split(" ")));
    setFind(asked.get("find") ?? "");
  }, [remote === undefined, ids]);
  const defs = useMemo<ColumnDef<typeof features, Row>[]>(
    () =>
      columns.map((column) => ({
        id: column.id,
        accessorFn: column.value,
        header: column.title,
        sortDescFirst: column.figure ?? false,
      })),
    [columns],
  );
  const sort = remote ? remote.sort : localSort;
  const table = useTable({
    features,
    columns: defs,
    data: rows,
    getRowId: rowKey,
    manualSorting: remote !== undefined,
    manualFiltering: remote !== undefined,
    globalFilterFn: "includesString",
    getColumnCanGlobalFilter: () => true,
    state: { sorting: sort ? [{ id: sort.by, desc: sort.down }] : [], globalFilter: remote ? "" : find, rowSelection: ticked },
    onRowSelectionChange: setTicked,
  });
  const shown = table.getRowModel().rows;
  const all = remote?.all ?? rows.length;
  const [top, setTop] = useState(0);
  useEffect(() => setTop(body.current ? body.current.getBoundingClientRect().top + window.scrollY : 0), [ready, shown.length > 0]);
  const long = ready && shown.length > drawnWhole;
  const width = columns.length + (chosen ? 1 : 0) + (actions ? 1 : 0);
  const virtual = useWindowVirtualizer({
    count: long ? shown.length : 0,
    estimateSize: () => 37,
    overscan: 12,
    scrollMargin: top,
    getItemKey: (index) => shown[index]!.id,
  });
  const items = virtual.getVirtualItems();
  const drawn = long ? items.map(({ index }) => index) : shown.slice(0, ready ? undefined : drawnWhole).map((_, index) => index);
  const above = long ? Math.max(0, (items[0]?.start ?? top) - top) : 0;
  const below = long ? Math.max(0, virtual.getTotalSize() - ((items.at(-1)?.end ?? top) - top)) : 0;
  // The next rows are asked for before the end is in sight.
  const nearEnd = (drawn.at(-1) ?? 0) >= shown.length - 20;
  const { more, loading } = remote ?? {};
  useEffect(() => {
    if (long && nearEnd && more && !loading) more();
  }, [long, nearEnd, more, loading]);

  const sortBy = (column: DataColumn<Row>) => {
    const next: Sort = { by: column.id, down: sort?.by === column.id ? !sort.down : (column.figure ?? false) };
    // Whoever holds the rows at the server keeps their whole address.
    if (remote) return remote.onSort(next);
    setLocalSort(next);
    keepInAddress("sort", writeSort(next));
  };
  const save = (of: typeof shown) =>
    saveCsv(
      name.toLowerCase().replaceAll(" ", "-"),
      columns.map(({ title }) => title),
      of.map(({ original }) => columns.map(({ value, file = value }) => file(original))),
    );
  const marked = shown.filter((row) => ticked[row.id]);
  const total = shown.length === all ? counted(all, ...of) : `${shown.length.toLocaleString("en")} of ${counted(all, ...of)}`;
  if (rows.length === 0 && !remote?.loading) return empty;
  return (
    <div className={`${styles.list} ${kit.listing}`}>
      <div className={styles.head}>
        {!remote && rows.length >= findFrom && (
          <label className={styles.find}>
            <span className="visually-hidden">Find in {name.toLowerCase()}</span>
            <input
              type="search"
              className={kit.control}
              placeholder="Find in this list"
              value={find}
              onChange={(event) => {
                setFind(event.currentTarget.value);
                keepInAddress("find", event.currentTarget.value);
              }}
            />
          </label>
        )}
        <p role="status" className={styles.count}>
          {remote ? counted(all, ...of) : total}
          {remote?.loading && ", loading…"}
        </p>
        {marked.length > 0 && chosen ? (
          <div className={styles.marked} role="group" aria-label="With those that are ticked">
            <b>{counted(marked.length, "ticked", "ticked")}</b>
            <button type="button" onClick={() => save(marked)}>
              Download {counted(marked.length, ...of)} as CSV
            </button>
            {chosen(marked.map(({ original }) => original))}
            <button type="button" onClick={() => setTicked({})}>
              Clear ticks
            </button>
          </div>
        ) : remote ? (
          remote.file && (
            <a href={remote.file} download>
              Download {counted(all, ...of)} as CSV
            </a>
          )
        ) : (
          <button type="button" onClick={() => save(shown)}>
            Download {counted(shown.length, ...of)} as CSV
          </button>
        )}
      </div>
      <div className={kit.wide} tabIndex={0} role="region" aria-label={name}>
        <table className={kit.table} aria-rowcount={all + 1} aria-busy={remote?.loading}>
          <thead>
            <tr>
              {chosen && (
                <th scope="col" className={styles.tick}>
                  <input
                    type="checkbox"
                    aria-label={`Tick all ${counted(shown.length, ...of)} that are loaded`}
                    checked={marked.length > 0 && marked.length === shown.length}
                    onChange={(event) => setTicked(event.currentTarget.checked ? Object.fromEntries(shown.map((row) => [row.id, true])) : {})}
                  />
                </th>
              )}
              {columns.map((column) => (
                <th
                  key={column.id}
                  scope="col"
                  className={headClass(column)}
                  aria-sort={sort?.by === column.id ? (sort.down ? "descending" : "ascending") : undefined}
                >
                  <button type="button" className={styles.sort} onClick={() => sortBy(column)}>
                    {column.figure && <Arrow sort={sort} by={column.id} />}
                    {column.title}
                    {!column.figure && <Arrow sort={sort} by={column.id} />}
                  </button>
                </th>
              ))}
              {actions && (
                <th scope="col">
                  <span className="visually-hidden">Actions</span>
                </th>
              )}
            </tr>
          </thead>
          <tbody ref={body} onKeyDown={byArrows}>
            {above > 0 && <Space height={above} span={width} />}
            {drawn.map((index) => {
              const row = shown[index]!;
              return (
                <tr
                  key={row.id}
                  data-index={index}
                  ref={long ? virtual.measureElement : undefined}
                  aria-rowindex={index + 2}
                  data-ticked={ticked[row.id] ? "" : undefined}
                >
                  {chosen && (
                    <td className={styles.tick}>
                      <input
                        type="checkbox"
                        aria-label={`Tick ${String(columns[0]!.value(row.original))}`}
                        checked={ticked[row.id] ?? false}
                        onChange={row.getToggleSelectedHandler()}
                      />
                    </td>
                  )}
                  {columns.map((column) => (
                    <td key={column.id} className={cellClass(column)}>
                      {column.cell(row.original)}
                    </td>
                  ))}
                  {actions && <td>{actions(row.original)}</td>}
                </tr>
              );
            })}
            {below > 0 && <Space height={below} span={width} />}
          </tbody>
        </table>
      </div>
      {shown.length === 0 && <p className={styles.none}>{remote?.loading ? "Loading…" : `None of ${counted(all, ...of)} contains “${find}”.`}</p>}
      {more && (
        <p className={styles.more}>
          <button type="button" className={kit.button} disabled={loading} onClick={more}>
            Show more: {shown.length.toLocaleString("en")} of {counted(all, ...of)} are loaded
          </button>
        </p>
      )}
    </div>
  );
};
