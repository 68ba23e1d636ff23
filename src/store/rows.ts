import {
  BigIntType,
  BooleanType,
  DateTimeType,
  IntegerType,
  JsonType,
  TextType,
  UnderscoreNamingStrategy,
  UuidType,
  type EntitySchema,
} from "@mikro-orm/core";

type SnakeCase<S extends string> = S extends `${infer First}${infer Rest}`
  ? `${First extends Lowercase<First> ? First : `_${Lowercase<First>}`}${SnakeCase<Rest>}`
  : S;

/** Some columns of a declared table as a row of the database: its names, and the declaration's types. */
export type RowOf<Table, Name extends keyof Table> = { [N in Name as N extends string ? SnakeCase<N> : never]: Table[N] };

/** Some columns of a declared table, to be written from JSON by a statement: `RowOfColumns` is what a row of them holds. */
export interface Columns<Table, Name extends keyof Table & string> {
  table: string;
  /** As in `insert into table (…)`. */
  names: string;
  /** As in `jsonb_to_recordset(…) as r(…)`. */
  typed: string;
  /** Carries the type alone. */
  row?: RowOf<Table, Name>;
}
export type RowOfColumns<C> = C extends Columns<infer Table, infer Name> ? RowOf<Table, Name> : never;

const sqlTypes = new Map<unknown, string>([
  [UuidType, "uuid"],
  [TextType, "text"],
  [DateTimeType, "timestamptz"],
  [JsonType, "jsonb"],
  [IntegerType, "int"],
  [BigIntType, "bigint"],
  [BooleanType, "boolean"],
]);

const naming = new UnderscoreNamingStrategy();
const columnName = (property: string): string => naming.propertyToColumnName(property);

/** Columns of a table by its properties, with their types as they are declared. */
export const columnsOf = <Table, Name extends keyof Table & string>(schema: EntitySchema<Table>, ...names: readonly Name[]): Columns<Table, Name> => {
  const declared: Record<string, { type: unknown; columnType?: string } | undefined> = schema.meta.properties;
  const typed = names.map((name) => {
    const { type, columnType } = declared[name]!;
    const sql = columnType ?? sqlTypes.get(typeof type === "function" ? type : type?.constructor);
    if (!sql) throw new Error(`The type of ${schema.meta.tableName}.${name} has no name in SQL yet: add it to sqlTypes in store/rows.ts.`);
    return `${columnName(name)} ${sql}`;
  });
  return { table: schema.meta.tableName, names: names.map(columnName).join(", "), typed: typed.join(", ") };
};
