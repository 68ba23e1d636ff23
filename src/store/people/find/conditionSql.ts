import { raw, type RawQueryFragment } from "@mikro-orm/postgresql";
import { sqlPart } from "../../sqlPart";
import {
  dayOf,
  partsOfEmailRef,
  type Condition,
  type ConditionScope,
  type Did,
  type Mailed,
  type ToldOther,
  type MailDeed,
  type TextTest,
} from "../../../core/conditions";
import { emailKindNames, hungKinds } from "../../../core/emails";
import { stages, type Stage } from "../../../core/events";

/** A part of a statement with what its question marks stand for. */
export interface Sql {
  sql: string;
  values: unknown[];
}

/** Of whom a condition is asked; where these are few, `among` has their ids (an array of PostgreSQL), so that nobody else is looked at. */
export interface SqlScope extends ConditionScope {
  among?: string;
}

/** Narrows a list of people, by the column that says who each is, to those who are asked. */
const amongThem = ({ among }: SqlScope, column: string): Sql[] =>
  among === undefined ? [] : [{ sql: `${column} = any(?::uuid[])`, values: [among] }];

const join = (parts: Sql[], by: string, whole = false): Sql => {
  const sql = parts.map((part) => part.sql).join(by);
  return { sql: whole ? `(${sql})` : sql, values: parts.flatMap(({ values }) => values) };
};

const textSql = (column: string, { is, text }: TextTest): Sql => ({
  sql:
    is === "equals"
      ? `${column} = ?`
      : is === "contains"
        ? `position(? in ${column}) > 0`
        : is === "starts"
          ? `starts_with(${column}, ?)`
          : `${column} ~ ?`,
  values: [text],
});

/** Whether a condition asks for a kind of event alone, once at any time. */
const isPlain = ({ launch, page, product, step, withinDays, times }: Did): boolean => !launch && !page && !product && !step && !withinDays && !times;
const isPlainStage = (part: Condition): boolean => "did" in part && (stages as readonly string[]).includes(part.did) && isPlain(part);

/** Whether a test of the columns of the stage roll-up holds: of a launch they are the row's own, of all launches one row of the person's has to do. */
const rollupSql = (scope: SqlScope, column: string, test: (column: string) => Sql): Sql => {
  if (scope.launchId !== undefined) {
    const { sql, values } = test(`p.${column}`);
    return { sql: `coalesce(${sql}, false)`, values };
  }
  const { sql, values } = join([test(column), ...amongThem(scope, "person_id")], " and ");
  return { sql: `p.id in (select person_id from stage_rollup where ${sql})`, values };
};

const firstTimeSql = (stage: Stage, scope: SqlScope): Sql => rollupSql(scope, stage, (column) => ({ sql: `${column} <= ?`, values: [scope.now] }));

/** The stages of which the first time is kept: the first view of a page is kept for any of them. */
const firstTimes: ReadonlySet<Did["did"]> = new Set(["opted_in", "saw_sales", "began_checkout", "paid"]);

/** The first instant of the days that are looked back over. */
const since = (withinDays: number, now: Date): Date => new Date((dayOf(now) - withinDays + 1) * 86_400_000);

const inLaunchOf =
  ({ launchId }: SqlScope, of?: string) =>
  (column: string): Sql[] =>
    [launchId, of].flatMap((id) => (id === undefined ? [] : [{ sql: `${column} = ?`, values: [id] }]));

/** What was done on the very day of an instant, up to it: the roll-up knows whole days alone. */
const thatDay = ({ did, launch, page }: Did, scope: SqlScope): Sql => {
  const { sql, values } = join(
    [
      { sql: "e.kind = ? and e.at >= ? and e.at <= ?", values: [did, since(1, scope.now), scope.now] },
      ...inLaunchOf(scope, launch)("e.launch_id"),
      ...(page ? [textSql("coalesce(e.page, '')", page)] : []),
      ...amongThem(scope, "coalesce(m.merged_into, m.id)"),
    ],
    " and ",
  );
  return { sql: `select coalesce(m.merged_into, m.id) as person_id, 1 as n from event e join person m on m.id = e.person_id where ${sql}`, values };
};

const didSql = (asked: Did, scope: SqlScope): Sql => {
  const { did, launch, page, product, step, withinDays, times = 1 } = asked;
  const { now, past } = scope;
  const inLaunch = inLaunchOf(scope, launch);
  if (product !== undefined || step !== undefined) {
    // What was bought and offered is in the log alone, and rare in it.
    const asks: Sql[] = [
      { sql: "e.kind = ? and e.at <= ?", values: [did, now] },
      ...inLaunch("e.launch_id"),
      ...(page ? [textSql("coalesce(e.page, '')", page)] : []),
      ...(product ? [{ sql: "(e.data->>'product' = ? or e.data->'products' @> to_jsonb(?::text))", values: [product, product] }] : []),
      ...(step ? [{ sql: "e.data->>'step' = ?", values: [step] }] : []),
      ...(withinDays ? [{ sql: "e.at >= ?", values: [since(withinDays, now)] }] : []),
      ...amongThem(scope, "coalesce(m.merged_into, m.id)"),
    ];
    const { sql, values } = join(asks, " and ");
    return {
      sql: `p.id in (select coalesce(m.merged_into, m.id) from event e join person m on m.id = e.person_id where ${sql} group by 1 having count(*) >= ?)`,
      values: [...values, times],
    };
  }
  if (firstTimes.has(did) && isPlain({ ...asked, launch: undefined })) {
    if (launch === undefined) return firstTimeSql(did as Stage, scope);
    const { sql, values } = join([...inLaunch("launch_id"), { sql: `${did} <= ?`, values: [now] }, ...amongThem(scope, "person_id")], " and ");
    return { sql: `p.id in (select person_id from stage_rollup where ${sql})`, values };
  }
  const { sql, values } = join(
    [
      { sql: `kind = ? and day ${past ? "<" : "<="} (?::timestamptz at time zone 'UTC')::date`, values: [did, now] },
      ...inLaunch("launch_id"),
      ...(page ? [textSql("page", page)] : []),
      ...(withinDays ? [{ sql: "day >= (?::timestamptz at time zone 'UTC')::date", values: [since(withinDays, now)] }] : []),
      ...amongThem(scope, "person_id"),
    ],
    " and ",
  );
  const days: Sql = { sql: `select person_id, n from day_rollup where ${sql}`, values };
  const all = past ? join([days, thatDay(asked, scope)], " union all ") : days;
  return times === 1
    ? { sql: `p.id in (select person_id from (${all.sql}) as d)`, values: all.values }
    : { sql: `p.id in (select person_id from (${all.sql}) as d group by 1 having sum(n) >= ?)`, values: [...all.values, times] };
};

const mailInstants: Record<MailDeed, string> = {
  sent: "m.sent_at",
  opened: "m.opened_at",
  clicked: "c.at",
  left: "m.left_at",
  bounced: "m.bounced_at",
  complained: "m.complained_at",
};

/** Messages of an email that a condition names: those on bells and in sequences are found by how their keys begin. */
const ofEmail = (ref: string): Sql => {
  const { launchId, key } = partsOfEmailRef(ref);
  if ((emailKindNames as readonly string[]).includes(key)) return { sql: "m.launch_id = ? and m.kind = ?", values: [launchId, key] };
  const begins = hungKinds.map((kind) => `${kind}:${launchId}:${key.replace(/[\\%_]/g, "\\$&")}:%`);
  return { sql: `(${begins.map(() => "m.key like ?").join(" or ")})`, values: begins };
};

/** Whom an email reached, or who did something with it. */
const mailedSql = ({ mailed, email, link, withinDays }: Mailed, scope: SqlScope): Sql => {
  const at = mailInstants[mailed];
  const clicked = mailed === "clicked";
  const { sql, values } = join(
    [
      clicked ? { sql: "c.counts_at <= ? and not c.machine", values: [scope.now] } : { sql: `${at} <= ?`, values: [scope.now] },
      ...(mailed === "sent" ? [{ sql: "m.state = 'sent'", values: [] }] : []),
      ...(withinDays ? [{ sql: `${at} >= ?`, values: [since(withinDays, scope.now)] }] : []),
      ...(link ? [textSql("c.link", link)] : []),
      ...(email ? [ofEmail(email)] : []),
      ...inLaunchOf(scope)("m.launch_id"),
      ...amongThem(scope, "k.person_id"),
    ],
    " and ",
  );
  const clicks = clicked ? "join email_click c on c.email_id = m.id" : "";
  return {
    sql: `p.id in (select k.person_id from email_message m join contact k on k.id = m.contact_id and not k.test ${clicks} where ${sql})`,
    values,
  };
};

/** Whom the last email that stated a closing of a launch told another one. */
const toldOtherSql = ({ launch, than, after }: ToldOther, scope: SqlScope): Sql => {
  const own = join(
    [
      { sql: "launch_id = ? and stated_closing is not null and state = 'sent' and sent_at <= ?", values: [launch, scope.now] },
      ...inLaunchOf(scope)("launch_id"),
    ],
    " and ",
  );
  const about = join([{ sql: "s.stated_closing > ? and s.stated_closing <> ?", values: [after, than] }, ...amongThem(scope, "k.person_id")], " and ");
  return {
    sql: `p.id in (select k.person_id from (select distinct on (contact_id) contact_id, stated_closing from email_message where ${own.sql} order by contact_id, sent_at desc) s
      join contact k on k.id = s.contact_id and not k.test where ${about.sql})`,
    values: [...own.values, ...about.values],
  };
};

/**
 * Those of whom a condition is asked, named `p` in a statement: of a launch whom it knows, with their row of its roll-up, so that stages, country
 * and source are read where people are; of all launches everybody who is not somebody else by now.
 */
export const peopleIn = ({ launchId }: SqlScope): Sql =>
  launchId === undefined
    ? { sql: "(select id from person where merged_into is null) as p", values: [] }
    : {
        sql: `(select person_id as id, country, source, device, partner_id, ${stages.join(", ")} from stage_rollup where launch_id = ?) as p`,
        values: [launchId],
      };

/**
 * A condition as SQL that is true for the people `p` (`peopleIn`) who meet it, as `matches` of the core judges their histories. What is no
 * column of theirs is a list of its own, which the planner joins or hashes once, however the parts are nested.
 */
export const conditionSql = (asked: Condition, scope: SqlScope): Sql => {
  const group = (parts: Condition[], by: string): Sql => {
    const { sql, values } = join(
      parts.map((part) => conditionSql(part, scope)),
      by,
    );
    return { sql: `(${sql})`, values };
  };
  if ("all" in asked) return group(asked.all, " and ");
  if ("any" in asked) {
    const rest = asked.any.filter((part) => !isPlainStage(part));
    // Whoever was at any stage has come: one instant says so, where asking for each would read every day of everybody.
    const asksFor = new Set(asked.any.flatMap((part) => (isPlainStage(part) && "did" in part ? [part.did] : [])));
    if (asksFor.size < stages.length) return group(asked.any, " or ");
    const came = firstTimeSql("visited", scope);
    return rest.length === 0 ? came : join([came, group(rest, " or ")], " or ", true);
  }
  if ("none" in asked) {
    const { sql, values } = group(asked.none, " or ");
    return { sql: `not ${sql}`, values };
  }
  if ("did" in asked) return didSql(asked, scope);
  if ("mailed" in asked) return mailedSql(asked, scope);
  if ("toldOther" in asked) return toldOtherSql(asked.toldOther, scope);
  if ("tag" in asked) return { sql: "p.id in (select person_id from person_tag where tag = ?)", values: [asked.tag] };
  if ("answered" in asked) {
    const { question, text } = asked.answered;
    const { sql, values } = textSql("a.value", text);
    return {
      sql: `p.id in (select c.person_id from contact c cross join lateral jsonb_each_text(c.answers) as a where not c.test and a.key = ? and ${sql})`,
      values: [question, ...values],
    };
  }
  if ("mayWrite" in asked)
    return {
      sql: "p.id in (select person_id from contact where not test and consent_at <= ? and coalesce(least(unsubscribed_at, suppressed_at), 'infinity') > ?)",
      values: [scope.now, scope.now],
    };
  const own = inLaunchOf(scope);
  if ("spent" in asked) {
    const { minor, currency } = asked.spent;
    const { sql, values } = join(
      [
        { sql: "s.currency = ? and s.placed_at <= ? and not s.test", values: [currency, scope.now] },
        ...own("s.launch_id"),
        ...amongThem(scope, "s.person_id"),
      ],
      " and ",
    );
    return {
      sql: `p.id in (select s.person_id from sale_order s join order_line n on n.order_id = s.id where ${sql} group by 1 having sum(n.gross_minor) >= ?)`,
      values: [...values, minor],
    };
  }
  if ("country" in asked) {
    const { country } = asked;
    return rollupSql(scope, "country", (column) => ({ sql: `${column} in (${country.map(() => "?").join(", ")})`, values: country }));
  }
  if ("source" in asked) return rollupSql(scope, "source", (column) => textSql(column, asked.source));
  if ("device" in asked) return rollupSql(scope, "device", (column) => ({ sql: `${column} = ?`, values: [asked.device] }));
  return rollupSql(scope, "partner_id", (column) =>
    asked.partner === null ? { sql: `${column} is not null`, values: [] } : { sql: `${column} = ?`, values: [asked.partner] },
  );
};

/** The ids of those who meet a condition, as a part of a statement. */
export const peopleMeeting = (asked: Condition, scope: SqlScope): RawQueryFragment => {
  const [people, meets] = [peopleIn(scope), conditionSql(asked, scope)];
  return sqlPart`select p.id from ${raw(people.sql, people.values)} where ${raw(meets.sql, meets.values)}`;
};
