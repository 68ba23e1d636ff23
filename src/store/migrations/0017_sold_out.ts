import { Migration } from "@mikro-orm/migrations";

/** The counter of seats knows whether all of them were taken once, and a seat whose buyer has all money back is free again. */
export class Migration0017SoldOut extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table seats_taken add column sold_out_once boolean not null default false;
create or replace function take_seats(of_launch uuid, more bigint, bound boolean) returns void language plpgsql as $$
declare
  taken bigint;
  seats bigint;
begin
  insert into seats_taken as t (launch_id, n) values (of_launch, more) on conflict (launch_id) do update set n = t.n + excluded.n returning n into taken;
  if more > 0 then
    select (settings->>'seats')::bigint into seats from launch where id = of_launch;
    if bound and taken > seats then
      raise exception 'launch % has % seats', of_launch, seats using errcode = 'IB001', hint = 'Nothing was written: tell the buyer that the last seat is taken.';
    end if;
    if taken >= seats then
      update seats_taken set sold_out_once = true where launch_id = of_launch and not sold_out_once;
    end if;
  end if;
end $$;
create index email_unsure on email_message (kind) where state = 'unknown';
create index email_dropped on email_message (due_at) where state = 'stopped';
update seats_taken t set sold_out_once = true from launch l where l.id = t.launch_id and t.n >= (l.settings->>'seats')::bigint;
    `);
  }
}
