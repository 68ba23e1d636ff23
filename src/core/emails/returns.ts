/** What a mail server reports of an email that it could not deliver: its fields by RFC 3464 §2.3, and the reason in its words. */
export interface DeliveryReport {
  action: string;
  /** An enhanced status code (RFC 3463), such as 5.1.1. */
  status: string;
  says: string;
}

/** What came back of an email: it could not be delivered for good, or this time; or its reader reported it as spam. */
export type ReturnedMail = { is: "bounce"; hard: boolean; says: string } | { is: "complaint"; says: string };

/** So many soft bounces within so many days say that an address takes nothing any more. Common practice, no source. */
export const softBounces = { most: 5, days: 30 } as const;

// Of the permanent ones, these say nothing against the address: a full mailbox, a message that is too large, a refusal by policy. RFC 3463 §3.3, §3.4 and §3.8.
const notTheAddress = /^5\.(2\.2|2\.3|3\.\d+|7\.\d+)$/;

/** What a report says of the address: undefined where the email is only late, or was delivered. */
export const bounceOf = ({ action, status, says }: DeliveryReport): ReturnedMail | undefined =>
  action.toLowerCase() === "failed" ? { is: "bounce", hard: status.startsWith("5.") && !notTheAddress.test(status), says } : undefined;
