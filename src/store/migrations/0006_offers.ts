import { Migration } from "@mikro-orm/migrations";

/** Offer paths in versions, products as they are really sold, and what a launch is reckoned to earn. */
export class Migration0006Offers extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
-- Each state of an offer path, whole. Buyers finish on the version they began.
create table path_version (
  launch_id uuid not null references launch, version int not null check (version > 0), path jsonb not null, what text not null,
  at timestamptz not null, user_id uuid references desk_user, primary key (launch_id, version)
);
insert into path_version (launch_id, version, path, what, at)
select s.launch_id, 1, jsonb_build_object('first', (array_agg(s.id::text order by s.position))[1], 'steps', jsonb_agg(jsonb_build_object('id', s.id, 'kind', 'offer',
  'productId', s.product_id, 'pageId', s.page_id, 'sure', false, 'yesTo', s.yes_to, 'noTo', s.no_to) order by s.position)), 'Begun', l.created_at
from path_step s join launch l on l.id = s.launch_id group by s.launch_id, l.created_at;
-- A step is what charges, lines and answers refer to; where it leads and what it sells stands in the versions.
alter table path_step drop column page_id, drop column product_id, drop column position, drop column yes_to, drop column no_to;
alter table sale_order add column path_version int not null default 0;
update sale_order s set path_version = 1 where checkout_id is not null and exists (select 1 from path_version v where v.launch_id = s.launch_id);
-- What the vendor assumes where nothing was measured yet.
alter table launch add column assumptions jsonb not null default '{}';

alter table product
  add column kind text not null default 'download' check (kind in ('download', 'library', 'service', 'shipped', 'bundle')),
  add column media_id uuid references media on delete set null,
  add column alone boolean not null default false,
  add column on_sale boolean not null default true,
  add column limit_per_person int check (limit_per_person > 0),
  add column seats int check (seats > 0),
  add column terms jsonb not null default '{"kind":"once"}';
alter table product drop constraint product_price_minor_check;
alter table product add check (price_minor >= 0);
-- Every price that was asked, so that what is struck through was true.
create table asked_price (
  product_id uuid not null references product, currency char(3) not null, minor bigint not null, at timestamptz not null, primary key (product_id, currency, at)
);
insert into asked_price select id, currency, price_minor, now() from product;
    `);
  }
}
