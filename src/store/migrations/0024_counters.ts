import { Migration } from "@mikro-orm/migrations";

/**
 * Roll-ups say where a person came from first, and how often they did what on which day. Counters follow the roll-ups by
 * themselves: a counter is the sum of its rows, and whoever changes a roll-up adds the difference, so that nobody waits for anybody.
 */
export class Migration0024Counters extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table stage_rollup add column country_at timestamptz, add column source text, add column source_at timestamptz, add column device text, add column device_at timestamptz;
update stage_rollup set country_at = visited where country is not null;

-- Who was merged into somebody who was merged again is that last person: one step leads there.
with recursive chain as (
  select id, merged_into as into_id from person where merged_into is not null
  union all select c.id, p.merged_into from chain c join person p on p.id = c.into_id where p.merged_into is not null
) update person set merged_into = c.into_id from chain c join person p on p.id = c.into_id where person.id = c.id and p.merged_into is null;
create index on person (merged_into) where merged_into is not null;
create table person_tag (person_id uuid not null references person, tag text not null, at timestamptz not null, primary key (person_id, tag));

-- How often a person did something on a page on a day (UTC).
create table day_rollup (
  launch_id uuid not null, person_id uuid not null, kind text not null, page text not null, day date not null, n int not null,
  primary key (launch_id, person_id, kind, page, day)
);
insert into day_rollup (launch_id, person_id, kind, page, day, n)
  select launch_id, person_id, kind, coalesce(page, ''), (at at time zone 'UTC')::date, count(*) from event group by 1, 2, 3, 4, 5;
create index on day_rollup (person_id);

-- People of each page and variant: who saw it; of them, who opted in on it, began a checkout, paid.
create table page_count (
  launch_id uuid not null, page text not null, variant text not null,
  people bigint not null, opted_in bigint not null, began bigint not null, paid bigint not null
);
create index on page_count (launch_id, page);
-- Of each kind of event in each hour: people who did it for the first time (of the stages alone), and how often it was done in all.
create table hour_count (
  launch_id uuid not null, kind text not null, hour timestamptz not null, country text not null, source text not null,
  people bigint not null, events bigint not null
);
create index on hour_count (launch_id, kind, hour);

create function count_people_of_hours() returns trigger language plpgsql as $$
begin
  if tg_op = 'INSERT' then
    insert into hour_count (launch_id, kind, hour, country, source, people, events)
    select f.launch_id, s.kind, date_trunc('hour', s.at, 'UTC'), coalesce(f.country, ''), coalesce(f.source, ''), count(*), 0
    from fresh f cross join lateral (values ('visited', f.visited), ('opted_in', f.opted_in), ('saw_sales', f.saw_sales), ('began_checkout', f.began_checkout), ('paid', f.paid)) as s(kind, at)
    where s.at is not null group by 1, 2, 3, 4, 5;
  elsif tg_op = 'DELETE' then
    insert into hour_count (launch_id, kind, hour, country, source, people, events)
    select g.launch_id, s.kind, date_trunc('hour', s.at, 'UTC'), coalesce(g.country, ''), coalesce(g.source, ''), -count(*), 0
    from gone g cross join lateral (values ('visited', g.visited), ('opted_in', g.opted_in), ('saw_sales', g.saw_sales), ('began_checkout', g.began_checkout), ('paid', g.paid)) as s(kind, at)
    where s.at is not null group by 1, 2, 3, 4, 5;
  else
    insert into hour_count (launch_id, kind, hour, country, source, people, events)
    select c.launch_id, s.kind, date_trunc('hour', s.at, 'UTC'), coalesce(c.country, ''), coalesce(c.source, ''), sum(c.sign), 0
    from (select 1 as sign, fresh.* from fresh union all select -1, gone.* from gone) as c
    cross join lateral (values ('visited', c.visited), ('opted_in', c.opted_in), ('saw_sales', c.saw_sales), ('began_checkout', c.began_checkout), ('paid', c.paid)) as s(kind, at)
    where s.at is not null group by 1, 2, 3, 4, 5 having sum(c.sign) <> 0;
  end if;
  return null;
end $$;

-- Who has seen pages before they begin a checkout or pay counts for those pages from then on.
create function count_buyers_of_pages() returns trigger language plpgsql as $$
begin
  if tg_op = 'INSERT' then
    insert into page_count (launch_id, page, variant, people, opted_in, began, paid)
    select p.launch_id, p.page, p.variant, 0, 0, count(f.began_checkout), count(f.paid)
    from fresh f join page_rollup p on p.launch_id = f.launch_id and p.person_id = f.person_id where f.began_checkout is not null or f.paid is not null group by 1, 2, 3;
  elsif tg_op = 'DELETE' then
    insert into page_count (launch_id, page, variant, people, opted_in, began, paid)
    select p.launch_id, p.page, p.variant, 0, 0, -count(g.began_checkout), -count(g.paid)
    from gone g join page_rollup p on p.launch_id = g.launch_id and p.person_id = g.person_id where g.began_checkout is not null or g.paid is not null group by 1, 2, 3;
  else
    insert into page_count (launch_id, page, variant, people, opted_in, began, paid)
    select p.launch_id, p.page, p.variant, 0, 0, sum(d.began), sum(d.paid)
    from (
      select launch_id, person_id, coalesce(sum(sign) filter (where began_checkout is not null), 0) as began, coalesce(sum(sign) filter (where paid is not null), 0) as paid
      from (select 1 as sign, launch_id, person_id, began_checkout, paid from fresh union all select -1, launch_id, person_id, began_checkout, paid from gone) as c
      group by 1, 2 having coalesce(sum(sign) filter (where began_checkout is not null), 0) <> 0 or coalesce(sum(sign) filter (where paid is not null), 0) <> 0
    ) as d join page_rollup p on p.launch_id = d.launch_id and p.person_id = d.person_id group by 1, 2, 3;
  end if;
  return null;
end $$;

create function count_people_of_pages() returns trigger language plpgsql as $$
begin
  if tg_op = 'INSERT' then
    insert into page_count (launch_id, page, variant, people, opted_in, began, paid)
    select f.launch_id, f.page, f.variant, count(*), count(f.acted_at), count(s.began_checkout), count(s.paid)
    from fresh f left join stage_rollup s on s.launch_id = f.launch_id and s.person_id = f.person_id group by 1, 2, 3;
  elsif tg_op = 'DELETE' then
    insert into page_count (launch_id, page, variant, people, opted_in, began, paid)
    select g.launch_id, g.page, g.variant, -count(*), -count(g.acted_at), -count(s.began_checkout), -count(s.paid)
    from gone g left join stage_rollup s on s.launch_id = g.launch_id and s.person_id = g.person_id group by 1, 2, 3;
  else
    insert into page_count (launch_id, page, variant, people, opted_in, began, paid)
    select c.launch_id, c.page, c.variant, sum(c.sign), coalesce(sum(c.sign) filter (where c.acted_at is not null), 0),
      coalesce(sum(c.sign) filter (where s.began_checkout is not null), 0), coalesce(sum(c.sign) filter (where s.paid is not null), 0)
    from (select 1 as sign, fresh.* from fresh union all select -1, gone.* from gone) as c left join stage_rollup s on s.launch_id = c.launch_id and s.person_id = c.person_id
    group by 1, 2, 3 having sum(c.sign) <> 0 or coalesce(sum(c.sign) filter (where c.acted_at is not null), 0) <> 0
      or coalesce(sum(c.sign) filter (where s.began_checkout is not null), 0) <> 0 or coalesce(sum(c.sign) filter (where s.paid is not null), 0) <> 0;
  end if;
  return null;
end $$;

insert into hour_count (launch_id, kind, hour, country, source, people, events) select launch_id, kind, hour, '', '', 0, n from hourly_count;
insert into hour_count (launch_id, kind, hour, country, source, people, events)
  select r.launch_id, s.kind, date_trunc('hour', s.at, 'UTC'), coalesce(r.country, ''), '', count(*), 0
  from stage_rollup r cross join lateral (values ('visited', r.visited), ('opted_in', r.opted_in), ('saw_sales', r.saw_sales), ('began_checkout', r.began_checkout), ('paid', r.paid)) as s(kind, at)
  where s.at is not null group by 1, 2, 3, 4;
insert into page_count (launch_id, page, variant, people, opted_in, began, paid)
  select r.launch_id, r.page, r.variant, count(*), count(r.acted_at), count(s.began_checkout), count(s.paid)
  from page_rollup r left join stage_rollup s on s.launch_id = r.launch_id and s.person_id = r.person_id group by 1, 2, 3;
drop table hourly_count;
`);
    for (const [table, does] of [
      ["stage_rollup", "count_people_of_hours"],
      ["stage_rollup", "count_buyers_of_pages"],
      ["page_rollup", "count_people_of_pages"],
    ] as const) {
      this.addSql(/* sql */ `
create trigger ${does}_insert after insert on ${table} referencing new table as fresh for each statement execute function ${does}();
create trigger ${does}_update after update on ${table} referencing new table as fresh old table as gone for each statement execute function ${does}();
create trigger ${does}_delete after delete on ${table} referencing old table as gone for each statement execute function ${does}();
`);
    }
  }
}
