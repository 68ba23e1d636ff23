import type { EmailKindName } from "../../../core/emails";
import type { EmailKind } from "../emailKind";
import { confirm } from "./confirm";
import { bell } from "./bell";
import { once } from "./once";
import { library } from "./library";
import { receipt } from "./receipt";
import { recovery } from "./recovery";
import { step } from "./step";
import { welcome } from "./welcome";

/** Every kind of email to a contact, and how it is made. */
export const emailKinds: { [K in EmailKindName]: EmailKind<K> } = { bell, confirm, library, once, receipt, recovery, step, welcome };
