import { Migration } from "@mikro-orm/migrations";

/** What a bundle held when it was sold is written down with its line, whatever becomes of the bundle later. */
export class Migration0012HeldParts extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table order_line add column holds jsonb not null default '[]';
create function parts_of(of_product uuid) returns jsonb language sql stable as $$
  select coalesce(jsonb_agg(jsonb_build_object('id', part.id, 'name', part.name) order by place), '[]')
  from product whole cross join unnest(whole.holds) with ordinality as held(id, place) join product part on part.id = held.id
  where whole.id = of_product
$$;
create function line_holds_parts() returns trigger language plpgsql as $$
declare
  held uuid[];
begin
  -- Most products hold nothing: that is found out by a plan that is kept.
  select p.holds into held from product p where p.id = new.product_id;
  new.holds := case when held <> '{}' then parts_of(new.product_id) else '[]' end;
  return new;
end $$;
-- Whoever writes a line: none of them can forget it. What is sent, and what is paid later, holds nothing by itself.
create trigger holds_parts before insert on order_line for each row when (new.role not in ('shipping', 'rebill')) execute function line_holds_parts();
update order_line set holds = parts_of(product_id) where role not in ('shipping', 'rebill');
    `);
  }
}
