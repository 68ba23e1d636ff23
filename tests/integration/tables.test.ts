import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { tables } from "../../src/store/tables";
import { startWorld, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

interface Column {
  table: string;
  column: string;
  type: string;
  nullable: boolean;
  /** Whether there is a value for it where none is written. */
  given: boolean;
  /** Whether the declaration makes that value itself. */
  made?: boolean;
}

/** Types that read and write alike: a text that holds a code of fixed length is still a text. */
const sameType: Record<string, string> = {
  character: "text",
  "character varying": "text",
  _uuid: "uuid[]",
  _text: "text[]",
  _int4: "int[]",
  "integer[]": "int[]",
  integer: "int",
  smallint: "int",
  "timestamp with time zone": "timestamptz",
  bigserial: "bigint",
};
const plain = (type: string): string => {
  const bare = type.replace(/\(\d+\)/, "");
  return sameType[bare] ?? bare;
};

const inDatabase = async (): Promise<Column[]> => {
  const rows = await world.app.fork().execute<Column[]>(
    `select c.table_name as table, c.column_name as column, case when c.data_type = 'ARRAY' then c.udt_name else c.data_type end as type,
       c.is_nullable = 'YES' as nullable, c.column_default is not null or c.is_identity = 'YES' or c.is_generated = 'ALWAYS' as given
     from information_schema.columns c join pg_class k on k.relname = c.table_name and k.relnamespace = 'public'::regnamespace
     where c.table_schema = 'public' and not k.relispartition and c.table_name <> 'mikro_orm_migrations'`,
  );
  return rows.map((row) => ({ ...row, type: plain(row.type) }));
};

const declared = (): Column[] => {
  const metadata = world.app.fork().getMetadata();
  return tables.flatMap(({ meta }) => {
    const found = metadata.get(meta.className);
    return found.props.map((prop) => ({
      table: found.tableName,
      column: prop.fieldNames[0]!,
      type: plain(prop.columnTypes[0]!),
      nullable: (prop.nullable ?? false) && !prop.autoincrement,
      made: prop.onCreate !== undefined,
      given:
        prop.default !== undefined ||
        prop.defaultRaw !== undefined ||
        prop.onCreate !== undefined ||
        prop.persist === false ||
        prop.autoincrement === true,
    }));
  });
};

const nameOf = ({ table, column }: Column): string => `${table}.${column}`;

describe("the declarations of tables", () => {
  it("name every column of the migrated database, and none that is not there", async () => {
    expect(declared().map(nameOf).sort()).toEqual((await inDatabase()).map(nameOf).sort());
  });
  it("say of each column its type, and whether it may be empty", async () => {
    // The number of an order is given by the database: the ORM knows it as one that may be left out.
    const shape = ({ type, nullable }: Column) => `${type}${nullable ? "?" : ""}`;
    const shapes = (columns: Column[]) => Object.fromEntries(columns.map((one) => [nameOf(one), shape(one)]));
    expect(shapes(declared())).toEqual(shapes(await inDatabase()));
  });
  it("let a column be left out only where the database has a value for it, or the declaration has", async () => {
    const byDatabase = new Set((await inDatabase()).filter(({ given }) => given).map(nameOf));
    // A trigger numbers orders: those that try things out have numbers of their own.
    byDatabase.add("sale_order.number");
    const mayBeLeftOut = declared().filter(({ given, nullable }) => given && !nullable);
    expect(mayBeLeftOut.filter((one) => !one.made && !byDatabase.has(nameOf(one)))).toEqual([]);
  });
});
