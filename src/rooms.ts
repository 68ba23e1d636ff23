import { emailsToPublish } from "./core/emails";
import type { Permission } from "./core/access";
import { phaseFor, type Viewer } from "./core/launch";
import type { LaunchContext } from "./server/launch";
import { gapsOfLaunch } from "./server/pages";
import type { EntityManager } from "./store/orm";
import { Listing, Partner } from "./store/tables";
import { lateWork } from "./store/work/lateWork";

/** What stands beside a room in the rail: how many gaps it has, how much is late, that nothing is missing, or a word on how things are. */
export type Mark = { gaps: number } | { late: number } | { ready: true } | { words: string };

/** What the mark of a launch's room goes by. */
interface OfLaunch {
  em: EntityManager;
  context: LaunchContext;
  /** Whose view, at which instant. */
  who: Viewer;
  at: Date;
}

interface Room {
  key: string;
  name: string;
  permission: Permission;
}
/** A room of each launch, at `/desk/<launch>/<key>`. */
export interface LaunchRoom extends Room {
  mark?: (of: OfLaunch) => Mark | undefined | Promise<Mark | undefined>;
}
/** A room of the whole desk. */
export interface DeskRoom extends Room {
  href: string;
  mark?: (em: EntityManager) => Promise<Mark | undefined>;
}

const phaseNames = { before: "run-up", during: "open", after: "closed" };
const clockNames = { fixed: "dates", recurring: "repeats", personal: "personal" };
const gapsOr = (gaps: number, otherwise: Mark): Mark => (gaps > 0 ? { gaps } : otherwise);

/** The rooms of a launch, in the order of the job. A room without a mark has nothing to say before it is entered. */
export const launchRooms: readonly LaunchRoom[] = [
  {
    key: "score",
    name: "Score",
    permission: "desk.view",
    mark: ({ context: { plan }, who, at }) => ({ words: plan.clock.kind === "personal" ? "always on" : phaseNames[phaseFor(plan, who, at)] }),
  },
  { key: "clock", name: "Clock", permission: "desk.view", mark: ({ context: { plan } }) => ({ words: clockNames[plan.clock.kind] }) },
  {
    key: "pages",
    name: "Pages",
    permission: "desk.view",
    mark: ({ context, at }) => gapsOr(gapsOfLaunch(context, at).filter(({ blocking }) => blocking).length, { ready: true }),
  },
  {
    key: "offers",
    name: "Offers",
    permission: "desk.view",
    // Steps that buyers pass over, because something about them is not finished.
    mark: ({ context: { savedPath, path } }) => gapsOr(savedPath.path.steps.length - path.steps.length, { words: String(path.steps.length) }),
  },
  {
    key: "emails",
    name: "Emails",
    permission: "desk.view",
    // Those that would go to nobody.
    mark: ({ context: { plan, emails }, at }) =>
      gapsOr(emailsToPublish(plan, (key) => Boolean(emails.get(key)?.published), at).length, { words: String(plan.settings.emails.length) }),
  },
  { key: "partners", name: "Partners", permission: "desk.view", mark: async ({ em }) => ({ words: String(await em.count(Partner, {})) }) },
  {
    key: "markets",
    name: "Markets",
    permission: "desk.view",
    async mark({ em, context }) {
      const listing = await em.findOne(Listing, { launchId: context.launch.id });
      return listing ? (listing.state === "live" ? { ready: true } : { words: listing.state }) : undefined;
    },
  },
  { key: "leaks", name: "Leaks", permission: "desk.view" },
  { key: "retarget", name: "Retarget", permission: "desk.view" },
];

/** The rooms of the desk, whatever the launch. */
export const deskRooms: readonly DeskRoom[] = [
  { key: "launches", name: "Launches", href: "/desk", permission: "desk.view" },
  { key: "products", name: "Products", href: "/desk/products", permission: "desk.view" },
  { key: "people", name: "People", href: "/desk/people", permission: "desk.view" },
  { key: "money", name: "Money", href: "/desk/money", permission: "desk.view" },
  {
    key: "waiting",
    name: "Waiting work",
    href: "/desk/waiting",
    permission: "desk.view",
    async mark(em) {
      const late = await lateWork(em);
      return late > 0 ? { late } : undefined;
    },
  },
  { key: "settings", name: "Settings", href: "/desk/settings", permission: "desk.view" },
];
