/** What somebody of the vendor's team may be. */
export const roles = ["owner", "editor", "finance", "viewer"] as const;
export type Role = (typeof roles)[number];

const everyone = roles;
const makers: readonly Role[] = ["owner", "editor"];
const treasurers: readonly Role[] = ["owner", "finance"];

/**
 * Who may do what at the desk, in one table. A permission is named `<what>.<verb>`; the desk's routes and the use cases
 * in `server/` ask for it by that name, and nothing is decided by a role elsewhere.
 */
export const permissions = {
  /** Launches, pages, offers, figures and people as screens show them. */
  "desk.view": everyone,
  "launch.edit": makers,
  /** Files of whole launches, pages and templates, out of and into this installation. */
  "launch.export": makers,
  "launch.import": makers,
  /** The secret with which an outside tool starts people's clocks. */
  "launch.secret": makers,
  "page.edit": makers,
  "page.publish": makers,
  "page.share": makers,
  "comment.moderate": makers,
  "product.edit": makers,
  "path.edit": makers,
  "coupon.edit": makers,
  "coupon.export": makers,
  /** Walks a launch as a buyer: drafts, closed doors, test cards. */
  "test.run": makers,
  "tax.edit": treasurers,
  /** Orders with their addresses, as a file. */
  "order.export": treasurers,
  "order.enter": treasurers,
  "order.refund": treasurers,
  /** Takes what a card holds when the goods go out. */
  "order.capture": treasurers,
  "order.receipt": ["owner", "editor", "finance"],
  /** Opens a product to somebody without an order, and ends that. */
  "access.grant": ["owner", "editor", "finance"],
  /** Ends instalments and subscriptions. */
  "recurring.end": treasurers,
  "partner.edit": makers,
  "listing.edit": makers,
  /** Agrees to a marketplace's terms in the vendor's name. */
  "listing.accept_terms": ["owner"],
  /** What is known of a person: corrected, tagged, or their emails stopped. */
  "person.edit": makers,
  /** People with their addresses, as a file. */
  "person.export": makers,
  /** A person who asks for it, from everywhere but the books. */
  "person.erase": ["owner"],
  /** What orders keep of a buyer who was erased. */
  "person.books": treasurers,
  /** People brought in from a file. */
  "person.import": makers,
  "recovery.edit": makers,
  /** Hashed addresses for an advert network. */
  "audience.export": makers,
  /** The vendor's name, address, tax numbers and sender. */
  "vendor.edit": ["owner"],
  /** Where other tools are told of what people do, with their addresses. */
  "webhook.edit": ["owner"],
  /** Who belongs to the team, and as what. */
  "team.edit": ["owner"],
  /** One's own password and sessions. */
  "account.edit": everyone,
  /** Work that waits to be done: tried again at once. */
  "work.retry": ["owner", "editor", "finance"],
} as const satisfies Record<string, readonly Role[]>;

export type Permission = keyof typeof permissions;

/** Whether somebody may do something. Nobody, and a role that the table does not know, may do nothing. */
export const can = (user: { role: string } | undefined, permission: Permission): boolean =>
  user !== undefined && (permissions[permission] as readonly string[]).includes(user.role);

/** Who may, in words for a refusal: "owner or finance". */
export const whoMay = (permission: Permission): string => permissions[permission].join(" or ");
