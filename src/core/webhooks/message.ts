import { formatAmount } from "../money";
import type { WebhookEvent } from "./endpoint";

/** What a message tells of. */
export interface Told {
  type: WebhookEvent;
  /** When it happened. */
  at: Date;
  launch: { slug: string; name: string } | null;
  person: { id: string; email: string; firstName: string; lastName: string };
  order: { id: string; number: number; amountMinor: number; currency: string; products: readonly { id: string; name: string }[] } | null;
  tag: string | null;
  clock: { startedBy: string } | { stoppedBy: string } | null;
}

/** The body of a message, as the Standard Webhooks specification has it: a type, a timestamp, and data. Its text is kept, so that every try sends the same. */
export const messageBody = ({ type, at, launch, person, order, tag, clock }: Told): string =>
  JSON.stringify({
    type,
    timestamp: at.toISOString(),
    data: {
      launch,
      person: { id: person.id, email: person.email, first_name: person.firstName, last_name: person.lastName },
      ...(order && {
        order: {
          id: order.id,
          number: order.number,
          amount: formatAmount(order.amountMinor, order.currency),
          amount_minor: order.amountMinor,
          currency: order.currency,
          products: order.products.map(({ id, name }) => ({ id, name })),
        },
      }),
      ...(tag !== null && { tag }),
      ...(clock && "startedBy" in clock && { started_by: clock.startedBy }),
      ...(clock && "stoppedBy" in clock && { stopped_by: clock.stoppedBy }),
    },
  });

/** The id of a message, which stays the same over all tries: by it a receiver tells a message that comes twice. */
export const messageId = (id: string): string => `msg_${id.replaceAll("-", "")}`;
