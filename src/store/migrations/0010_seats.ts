import { Migration } from "@mikro-orm/migrations";

/** A counter of seats that are taken, kept by the database itself. */
export class Migration0010Seats extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
-- Seats of a launch that are taken: what was paid, and what is being charged at this moment. Kept, and held below what there
-- is, by the triggers below for whoever writes. They run at the commit: every buyer of a launch waits for its row, and none
-- must wait for the program of another.
create table seats_taken (launch_id uuid primary key references launch on delete cascade, n bigint not null default 0);

create function take_seats(of_launch uuid, more bigint, bound boolean) returns void language plpgsql as $$
declare
  taken bigint;
  seats bigint;
begin
  insert into seats_taken as t (launch_id, n) values (of_launch, more) on conflict (launch_id) do update set n = t.n + excluded.n returning n into taken;
  if bound and more > 0 then
    select (settings->>'seats')::bigint into seats from launch where id = of_launch;
    if taken > seats then
      raise exception 'launch % has % seats', of_launch, seats using errcode = 'IB001', hint = 'Nothing was written: tell the buyer that the last seat is taken.';
    end if;
  end if;
end $$;

create function front_pieces(items jsonb) returns bigint language sql immutable as $$
  select coalesce(sum(coalesce((i->>'quantity')::int, 1)), 0) from jsonb_array_elements(items) as i where i->>'role' = 'front'
$$;

-- A charge takes its seats when it is begun, and gives them back when it is declined or let go. Who tries things out takes none.
create function charge_takes_seats() returns trigger language plpgsql as $$
declare
  pieces bigint := front_pieces(new.items);
  before int := case when tg_op = 'UPDATE' and old.state not in ('declined', 'released') then 1 else 0 end;
  after int := case when new.state not in ('declined', 'released') then 1 else 0 end;
begin
  if pieces > 0 and before <> after then
    perform take_seats(k.launch_id, (after - before) * pieces, true) from checkout k where k.id = new.checkout_id and not k.test;
  end if;
  return null;
end $$;
create constraint trigger takes_seats after insert or update of state on charge deferrable initially deferred for each row execute function charge_takes_seats();

-- What was sold without a charge here: entered by hand, or on a marketplace, whose sales nobody can refuse.
create function line_takes_seats() returns trigger language plpgsql as $$
begin
  perform take_seats(s.launch_id, new.quantity, s.source in ('own', 'hand')) from sale_order s where s.id = new.order_id and not s.test;
  return null;
end $$;
create constraint trigger takes_seats after insert on order_line deferrable initially deferred for each row
  when (new.charge_id is null and new.role = 'front') execute function line_takes_seats();

insert into seats_taken (launch_id, n)
select launch_id, sum(n) from (
  select k.launch_id, front_pieces(g.items) as n from charge g join checkout k on k.id = g.checkout_id where g.state <> 'declined' and not k.test
  union all
  select s.launch_id, n.quantity from order_line n join sale_order s on s.id = n.order_id where n.charge_id is null and n.role = 'front' and not s.test
) as taken group by launch_id having sum(n) > 0;

-- All tries of a checkout; and payments under way, which are few among all that were, wherever they are counted.
create index on charge (checkout_id);
create index charge_under_way on charge (checkout_id) where state in ('pending', 'challenge');
create index on order_line (product_id);
    `);
  }
}
