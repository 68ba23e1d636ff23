import type { EntityManager } from "../orm";

/** What happened around an order, in time: the checkout, payments, answers to offers, emails, refunds and disputes. */
export const orderEvents = async (em: EntityManager, orderId: string): Promise<{ at: Date; what: string }[]> => {
  const rows = await em.execute<{ at: string; what: string }[]>(
    `with o as (select * from sale_order where id = ?)
     select at, what from (
       select k.begun_at as at, 'Checkout begun' as what from checkout k join o on o.checkout_id = k.id
       union all select g.settled_at, case g.state when 'succeeded' then 'Card charged' when 'voided' then 'Payment let go' else 'Card refused' end from charge g join o on o.checkout_id = g.checkout_id where g.settled_at is not null
       union all select u.at, 'The code ' || u.code || ' was used' from coupon_use u join o on u.order_id = o.id
       union all select g.created_at, 'Held on the card' from charge g join o on o.checkout_id = g.checkout_id where g.capture_later and g.state in ('authorized', 'succeeded', 'voided')
       union all select d.at, 'Said ' || d.decision || ' to ' || coalesce((select n.name from order_line n where n.order_id = o.id and n.step_id = d.step_id limit 1), 'an offer')
         from offer_decision d join o on o.id = d.order_id
       union all select o.finished_path_at, 'Came to the thank-you page' from o where o.finished_path_at is not null
       union all select o.fulfilled_at, 'Goods sent' from o where o.fulfilled_at is not null
       union all select e.sent_at, 'Receipt sent' from email_message e join o on e.data->>'orderId' = o.id::text where e.sent_at is not null
       union all select r.asked_at, 'Refund asked for' from refund r join o on r.order_id = o.id
       union all select d.opened_at, 'Dispute opened' from dispute d join o on d.order_id = o.id
       union all select d.closed_at, 'Dispute ' || d.state from dispute d join o on d.order_id = o.id where d.closed_at is not null
       union all select a.ended_at, 'Later payments ended' from recurring_payment a join o on a.order_id = o.id where a.ended_at is not null
     ) as happened order by at`,
    [orderId],
  );
  return rows.map(({ at, what }) => ({ at: new Date(at), what }));
};
