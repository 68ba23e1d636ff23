import { Migration } from "@mikro-orm/migrations";

/**
 * A dispute may be over a part of a charge; of two clocks that were open when their people proved to be one, one is
 * superseded; a coupon may belong to a partner; orders that try things out have numbers of their own, below zero.
 */
export class Migration0019Parts extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table dispute add column items jsonb not null default '[]';
-- What was booked of each line for the disputes that there are; of an order that tried things out, all of the charge.
update dispute d set items = coalesce((
  select jsonb_agg(jsonb_build_object('lineId', b.line_id, 'gross', b.gross, 'tax', b.tax)) from (
    select j.line_id, sum(x.minor) as gross, coalesce(sum(x.minor) filter (where x.account = 'tax_payable'), 0) as tax
    from journal j join posting x on x.journal_id = j.id where j.about_id = d.id and j.kind = 'dispute' and x.account in ('disputes', 'tax_payable') group by 1
    union all
    select n.id, n.gross_minor, n.tax_minor from order_line n join sale_order s on s.id = n.order_id where s.test and n.charge_id = d.charge_id
  ) b), '[]');
alter table product add column access_at_once boolean not null default false;
alter table coupon add column partner_id uuid references partner;
alter table sale_order alter column number drop identity;
create sequence order_number;
select setval('order_number', greatest(1000, coalesce((select max(number) from sale_order), 1000)));
create sequence test_order_number;
create function number_order() returns trigger language plpgsql as $$
begin
  new.number := case when new.test then -nextval('test_order_number') else nextval('order_number') end;
  return new;
end $$;
create trigger number_order before insert on sale_order for each row when (new.number is null) execute function number_order();
alter table clock_start add column superseded boolean not null default false;
    `);
  }
}
