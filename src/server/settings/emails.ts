import { invitationWords, newPasswordWords } from "../../core/emails";
import { linkHolds } from "../../core/settings";
import { DeskUser, Invitation } from "../../store/tables";
import { type App, sendAccountEmail, type SessionKind, signLink } from "../platform";
import { newPasswordLink } from "./passwords";

/** Writes to whoever was invited. Sent again after a crash, it carries the same Message-ID. */
export const sendInvitation = async (app: App, id: string): Promise<void> => {
  const em = app.fork();
  const now = app.clock.now();
  const invitation = await em.findOne(Invitation, { id, endedAt: null, expiresAt: { $gt: now } });
  if (!invitation) return;
  const by = await em.findOneOrFail(DeskUser, { id: invitation.invitedBy });
  const { origin, INKBELL_SECRET } = app.config;
  const words = invitationWords({
    by: by.name,
    vendor: app.vendor.name,
    role: invitation.role,
    days: linkHolds.invitation,
    link: `${origin}/desk/welcome?t=${signLink(INKBELL_SECRET, "invitation", id, now, linkHolds.invitation)}`,
  });
  await sendAccountEmail(app, invitation.email, words, id);
};

/** Writes the link to a new password to whoever asked for one. */
export const sendNewPassword =
  (kind: SessionKind) =>
  async (app: App, id: string): Promise<void> => {
    const found = await newPasswordLink(app, kind, id);
    if (!found) return;
    const { to, href } = found;
    const minute = Math.floor(app.clock.now().getTime() / 60_000);
    await sendAccountEmail(
      app,
      to.email,
      newPasswordWords({ name: to.name, vendor: app.vendor.name, kind, link: href }),
      `password.${to.id}.${minute}`,
    );
  };
