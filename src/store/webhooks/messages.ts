import type { MessageState, OffReason, Outcome } from "../../core/webhooks";
import type { EntityManager } from "../orm";
import type { WebhookMessage } from "./tables";

type NewMessage = Pick<WebhookMessage, "id" | "endpointId" | "key" | "type" | "personId" | "body" | "happenedAt">;

/** Keeps messages that are due at once; of one key there is one. */
export const addMessages = async (tx: EntityManager, messages: readonly NewMessage[], now: Date): Promise<void> => {
  if (messages.length === 0) return;
  await tx.execute(
    `insert into webhook_message (id, endpoint_id, key, type, person_id, body, happened_at, state, due_at)
     select id, "endpointId", key, type, "personId", body, "happenedAt", 'due', ?
     from jsonb_to_recordset(?::jsonb) as m(id uuid, "endpointId" uuid, key text, type text, "personId" uuid, body text, "happenedAt" timestamptz) on conflict (endpoint_id, key) do nothing`,
    [now, JSON.stringify(messages)],
  );
};

/** Locks what an endpoint was told up to, for whoever looks what has happened; undefined while another worker does, or where it is off. */
export const lockEndpoint = async (tx: EntityManager, id: string): Promise<boolean> =>
  (await tx.execute<object[]>("select 1 from webhook_endpoint where id = ? and off_because is null for update skip locked", [id])).length > 0;

/** Notes up to when it was looked what happened. */
export const noteLooked = async (tx: EntityManager, id: string, now: Date): Promise<void> => {
  await tx.execute("update webhook_endpoint set looked_at = ? where id = ?", [now, id]);
};

/** A message in somebody's hands. */
export interface Claimed {
  id: string;
  endpointId: string;
  url: string;
  secrets: string[];
  body: string;
  tries: number;
}

/**
 * Takes messages that are due into hand, at most so many of each endpoint: until `lease` nobody else takes them up. A worker that ends meanwhile leaves
 * them to the next, so that a receiver may get one twice, under the same id.
 */
export const claimMessages = async (
  em: EntityManager,
  now: Date,
  lease: Date,
  { most, busy }: { most: number; busy: Readonly<Record<string, number>> },
): Promise<Claimed[]> => {
  const rows = await em.execute<
    { id: string; endpoint_id: string; url: string; secret: string; previous: string | null; body: string; tries: number }[]
  >(
    `with busy as (select key::uuid as endpoint_id, value::int as n from jsonb_each_text(?::jsonb)),
       due as (select m.id from webhook_endpoint e left join busy b on b.endpoint_id = e.id
         cross join lateral (select id from webhook_message where endpoint_id = e.id and state = 'due' and due_at <= ? order by due_at limit greatest(0, ? - coalesce(b.n, 0)) for update skip locked) m
         where e.off_because is null)
     update webhook_message m set due_at = ?, tries = m.tries + 1, tried_at = ? from webhook_endpoint e
     where m.id in (select id from due) and e.id = m.endpoint_id
     returning m.id, m.endpoint_id, e.url, e.secret, case when e.previous_until > ? then e.previous_secret end as previous, m.body, m.tries`,
    [JSON.stringify(busy), now, most, lease, now, now],
  );
  return rows.map(({ id, endpoint_id, url, secret, previous, body, tries }) => ({
    id,
    endpointId: endpoint_id,
    url,
    secrets: previous === null ? [secret] : [secret, previous],
    body,
    tries,
  }));
};

/** Writes what became of a message after a try. One that was sent again meanwhile stays as it is. */
export const writeOutcome = async (
  em: EntityManager,
  { id, tries }: Pick<Claimed, "id" | "tries">,
  outcome: Outcome,
  { status, says }: { status: number | null; says: string | null },
): Promise<void> => {
  const [state, due]: [MessageState, Date | null] =
    outcome.is === "retry" ? ["due", outcome.at] : outcome.is === "delivered" ? ["delivered", null] : ["failed", null];
  await em.execute("update webhook_message set state = ?, due_at = coalesce(?, due_at), status = ?, says = ? where id = ? and tries = ?", [
    state,
    due,
    status,
    says,
    id,
    tries,
  ]);
};

/** Whether an endpoint took anything since an instant. */
export const tookAnything = async (em: EntityManager, endpointId: string, since: Date): Promise<boolean> => {
  const [row] = await em.execute<{ took: boolean }[]>(
    "select exists (select from webhook_message where endpoint_id = ? and state = 'delivered' and tried_at >= ?) as took",
    [endpointId, since],
  );
  return row!.took;
};

/** Switches an endpoint off, the first reason holds. */
export const switchOff = async (em: EntityManager, endpointId: string, because: OffReason): Promise<void> => {
  await em.execute("update webhook_endpoint set off_because = ? where id = ? and off_because is null", [because, endpointId]);
};

/** How many messages of each endpoint stand how, and when one last arrived. */
export const messageCounts = async (
  em: EntityManager,
): Promise<{ endpointId: string; due: number; late: number; delivered: number; failed: number; arrivedAt: Date | null }[]> => {
  const rows = await em.execute<Record<string, string | null>[]>(
    `select endpoint_id, count(*) filter (where state = 'due') as due, count(*) filter (where state = 'due' and tries > 1) as late,
       count(*) filter (where state = 'delivered') as delivered, count(*) filter (where state = 'failed') as failed,
       max(tried_at) filter (where state = 'delivered') as arrived from webhook_message group by 1`,
  );
  return rows.map(({ endpoint_id, due, late, delivered, failed, arrived }) => ({
    endpointId: endpoint_id!,
    due: Number(due),
    late: Number(late),
    delivered: Number(delivered),
    failed: Number(failed),
    arrivedAt: arrived ? new Date(arrived) : null,
  }));
};

/** Has messages of an endpoint tried again from the beginning: one, or all that failed. Answers how many. */
export const sendAgain = async (em: EntityManager, which: { message: string } | { failedOf: string }, now: Date): Promise<number> => {
  const [where, id] = "message" in which ? ["id = ?", which.message] : ["endpoint_id = ? and state = 'failed'", which.failedOf];
  const { affectedRows } = await em.execute<{ affectedRows: number }>(
    `update webhook_message set state = 'due', due_at = ?, tries = 0 where ${where}`,
    [now, id],
    "run",
  );
  return affectedRows;
};

/** Deletes messages of before an instant that wait for nothing, some thousands at a time. */
export const forgetMessages = /* sql */ `delete from webhook_message where id in (select id from webhook_message where happened_at < ? and state <> 'due' limit 5000)`;
