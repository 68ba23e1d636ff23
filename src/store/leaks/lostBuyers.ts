import type { FigureScope } from "../../core/figures";
import type { MoneyByCurrency } from "../../core/money";
import { ordersIn } from "../checkout/ordersIn";
import type { EntityManager } from "../orm";

export interface LostBuyers {
  /** Open checkouts whose last activity is longer ago than the delay. */
  open: number;
  waiting: number;
  sent: number;
  stopped: { because: string; n: number }[];
  recovered: number;
  recoveredGross: MoneyByCurrency;
}

/** Unfinished checkouts of a launch, what the email did about them, and what came back. */
export const lostBuyers = async (em: EntityManager, scope: FigureScope & { launchId: string }): Promise<LostBuyers> => {
  const { launchId, now } = scope;
  const [open] = await em.execute<{ n: string }[]>(
    `select count(distinct k.contact_id) as n from checkout k join launch l on l.id = k.launch_id
     where k.launch_id = ? and not k.test and k.begun_at <= ?::timestamptz and (k.paid_at is null or k.paid_at > ?::timestamptz) and k.contact_id is not null and k.last_activity_at <= ?::timestamptz - make_interval(mins => l.recovery_delay_minutes)
       and k.contact_id not in (select s.contact_id from ?)`,
    [launchId, now, now, now, ordersIn(scope)],
  );
  const emails = await em.execute<{ state: string; because: string | null; n: string }[]>(
    "select case when state = 'sent' and sent_at > ? then 'due' else state end as state, stopped_because as because, count(*) as n from email_message where launch_id = ? and kind = 'recovery' and (state <> 'stopped' or due_at <= ?) group by 1, 2",
    [now, launchId, now],
  );
  const back = await em.execute<{ currency: string; n: string; minor: string }[]>(
    `select s.currency, count(distinct s.id) as n, coalesce(sum(n.gross_minor), 0) as minor from ? join order_line n on n.order_id = s.id where s.recovered group by 1`,
    [ordersIn(scope)],
  );
  const count = (state: string) => emails.filter((row) => row.state === state).reduce((sum, row) => sum + Number(row.n), 0);
  return {
    open: Number(open!.n),
    waiting: count("due"),
    sent: count("sent"),
    recovered: back.reduce((sum, row) => sum + Number(row.n), 0),
    recoveredGross: Object.fromEntries(back.map((row) => [row.currency, Number(row.minor)])),
    stopped: emails.filter((row) => row.state === "stopped").map((row) => ({ because: row.because ?? "", n: Number(row.n) })),
  };
};
