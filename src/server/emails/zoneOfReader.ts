import type { Contact } from "../../store/tables";
import type { LaunchContext } from "../launch";

/** The zone in whose hours a reader counts: theirs where it is known, else the launch's. */
export const zoneOfReader = ({ zone, guessedZone }: Pick<Contact, "zone" | "guessedZone">, { launch }: Pick<LaunchContext, "launch">): string =>
  zone ?? guessedZone ?? launch.zone;
