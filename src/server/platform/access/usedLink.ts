import { useLink } from "../../../store/platform/useLink";
import { createHash } from "node:crypto";
import type { EntityManager } from "../../../store/orm";

/** Uses up a link that holds once, in the current transaction. Answers whether it was unused. */
export const useUp = (em: EntityManager, token: string, now: Date, days: number): Promise<boolean> =>
  useLink(em, createHash("sha256").update(token).digest("hex"), now, new Date(now.getTime() + days * 86_400_000));
