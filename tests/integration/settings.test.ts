import { launchesOf } from "../../src/server/launch/launchCache";
import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { vendorRequest } from "../../src/core/settings";
import { hashPassword, sessionSubject, sessionsOf, signIn, type SessionKind } from "../../src/server/platform/access/session";
import { askForNewPassword, changeOwnPassword, chooseNewPassword } from "../../src/server/settings/passwords";
import { endOwnSessions, ownSessions } from "../../src/server/settings/sessions";
import { changeMembership, endInvitation, invite, joinTeam, teamOf } from "../../src/server/settings/team";
import { changeVendor, vendorVersion } from "../../src/server/settings/vendor";
import { DeskUser, Launch, Partner } from "../../src/store/tables";
import { addPartner, advance, buy, look, openLaunch, someone, startWorld, until, withWorker, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const firefox = "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0";
const enter = (kind: SessionKind, email: string, password: string) => signIn(world.app, em(), kind, email, password, randomUUID(), firefox);
/** Somebody of the team with a password. */
const member = async (role: DeskUser["role"], password = "a long password"): Promise<DeskUser> => {
  const row = { ...someone(role), email: `${role}.${randomUUID().slice(0, 8)}@team.example`, passwordHash: await hashPassword(password) };
  await em().insert(DeskUser, row);
  return row;
};
/** The link of the newest email to an address, once it has come. */
const linkTo = (email: string, count = 1): Promise<string> =>
  withWorker(world, () =>
    until(async () => {
      const emails = await world.inbox(email);
      return emails.length >= count && new URL(/(http\S+\?t=\S+)/.exec(emails.map(({ text }) => text).join("\n"))![1]!).searchParams.get("t")!;
    }),
  );

describe("the team", () => {
  it("grows by an invitation that holds once, in the role it says", async () => {
    const email = `ed.${randomUUID().slice(0, 8)}@team.example`;
    await invite(em(), world.owner, { email, role: "editor" }, now());
    const token = await linkTo(email);
    const session = await joinTeam(world.app, token, { name: "Ed", password: "a long password" }, firefox);
    const id = await sessionSubject(em(), "desk", session, now());
    expect(await em().findOneOrFail(DeskUser, { id: id! })).toMatchObject({ name: "Ed", email, role: "editor" });
    await expect(joinTeam(world.app, token, { name: "Mallory", password: "a long password" }, "")).rejects.toMatchObject({ code: "link_over" });
    expect(await enter("desk", email, "a long password")).toBeTruthy();
    await expect(invite(em(), world.owner, { email, role: "viewer" }, now())).rejects.toMatchObject({
      faults: { email: { code: "member_already" } },
    });
  });
  it("is not joined by an invitation that was taken back, replaced or is over", async () => {
    const email = `late.${randomUUID().slice(0, 8)}@team.example`;
    await invite(em(), world.owner, { email, role: "viewer" }, now());
    const token = await linkTo(email);
    const [open] = (await teamOf(em(), now())).invitations.filter((one) => one.email === email);
    await endInvitation(em(), world.owner, open!.id, now());
    await expect(joinTeam(world.app, token, { name: "Late", password: "a long password" }, "")).rejects.toMatchObject({ code: "link_over" });
    await invite(em(), world.owner, { email, role: "viewer" }, now());
    await invite(em(), world.owner, { email, role: "finance" }, now());
    expect((await teamOf(em(), now())).invitations.filter((one) => one.email === email)).toMatchObject([{ role: "finance" }]);
  });
  it("loses whoever's membership ends at once, keeps what they made, and takes them back as themself", async () => {
    const ed = await member("editor");
    const launch = await openLaunch({ ...world, owner: ed }, { offer: false });
    const token = await enter("desk", ed.email, "a long password");
    await changeMembership(em(), world.owner, ed.id, { do: "end" }, now());
    expect(await sessionSubject(em(), "desk", token, now())).toBeUndefined();
    await expect(enter("desk", ed.email, "a long password")).rejects.toMatchObject({ code: "wrong_login" });
    expect(await em().findOne(Launch, { id: launch.launch.id })).not.toBeNull();
    expect((await teamOf(em(), now())).members.find(({ id }) => id === ed.id)?.endedAt).not.toBeNull();
    await invite(em(), world.owner, { email: ed.email, role: "viewer" }, now());
    await joinTeam(world.app, await linkTo(ed.email), { name: "Ed again", password: "another long password" }, "");
    expect(await em().findOneOrFail(DeskUser, { email: ed.email })).toMatchObject({ id: ed.id, role: "viewer", endedAt: null });
  });
  it("never loses its last owner, however two owners press at once", async () => {
    const other = await member("owner");
    const ends = await Promise.allSettled([
      changeMembership(em(), world.owner, other.id, { do: "end" }, now()),
      changeMembership(em(), other, world.owner.id, { do: "role", role: "viewer" }, now()),
    ]);
    expect(ends.map(({ status }) => status).sort()).toEqual(["fulfilled", "rejected"]);
    expect(await em().count(DeskUser, { role: "owner", endedAt: null })).toBe(1);
    await em().nativeUpdate(DeskUser, { id: world.owner.id }, { role: "owner", endedAt: null });
    await em().nativeUpdate(DeskUser, { id: other.id }, { role: "viewer" });
    await expect(changeMembership(em(), world.owner, world.owner.id, { do: "end" }, now())).rejects.toMatchObject({ code: "last_owner" });
  });
  it("is changed by an owner alone", async () => {
    for (const role of ["editor", "finance", "viewer"] as const) {
      const who = someone(role);
      await expect(invite(em(), who, { email: "x@team.example", role: "owner" }, now())).rejects.toMatchObject({ status: 403 });
      await expect(changeMembership(em(), who, world.owner.id, { do: "end" }, now())).rejects.toMatchObject({ status: 403 });
    }
  });
});

describe("a new password by email", () => {
  const people: Record<SessionKind, () => Promise<{ email: string; id: string }>> = {
    desk: () => member("editor"),
    partner: async () => {
      const partner = await addPartner(world, `reset-${randomUUID().slice(0, 8)}`);
      await em().nativeUpdate(Partner, { id: partner.id }, { passwordHash: await hashPassword("a long password") });
      return partner;
    },
    buyer: async () => {
      const { person, order } = await buy(world, await openLaunch(world, { offer: false }));
      await em().execute("update contact set password_hash = ? where id = ?", [await hashPassword("a long password"), order!.contactId]);
      return { email: person.email, id: order!.contactId };
    },
  };
  it.each(["desk", "partner", "buyer"] as const)("is chosen by the link, once, and ends every other session (%s)", async (kind) => {
    const { email, id } = await people[kind]();
    const before = await enter(kind, email, "a long password");
    await askForNewPassword(world.app, em(), kind, ` ${email.toUpperCase()} `, "here");
    const token = await linkTo(email);
    // A link for one door opens no other.
    const elsewhere = kind === "desk" ? "partner" : "desk";
    await expect(chooseNewPassword(world.app, elsewhere, token, "quite another one", "")).rejects.toMatchObject({ code: "link_over" });
    await expect(chooseNewPassword(world.app, kind, token, "short", "")).rejects.toMatchObject({ status: 422 });
    const session = await chooseNewPassword(world.app, kind, token, "quite another one", firefox);
    expect(await sessionSubject(em(), kind, session, now())).toBe(id);
    expect(await sessionSubject(em(), kind, before, now())).toBeUndefined();
    await expect(chooseNewPassword(world.app, kind, token, "and a third one", "")).rejects.toMatchObject({ code: "link_over" });
    await expect(enter(kind, email, "a long password")).rejects.toMatchObject({ code: "wrong_login" });
    expect(await enter(kind, email, "quite another one")).toBeTruthy();
  });
  it("is sent to nobody who has no account, and answers the same", async () => {
    const nobody = `nobody.${randomUUID().slice(0, 8)}@team.example`;
    const gone = await member("viewer");
    await em().nativeUpdate(DeskUser, { id: gone.id }, { endedAt: now() });
    const before = await em().execute<{ n: string }[]>("select count(*) as n from outbox");
    for (const email of [nobody, gone.email]) expect(await askForNewPassword(world.app, em(), "desk", email, "there")).toBeUndefined();
    expect(await em().execute("select count(*) as n from outbox")).toEqual(before);
  });
  it("does not come more often than once a minute, nor after a day", async () => {
    const who = await member("viewer");
    for (let n = 0; n < 3; n += 1) await askForNewPassword(world.app, em(), "desk", who.email, "elsewhere");
    const token = await linkTo(who.email);
    expect(await world.inbox(who.email)).toHaveLength(1);
    await advance(world, 24 * 60 + 1);
    await expect(chooseNewPassword(world.app, "desk", token, "quite another one", "")).rejects.toMatchObject({ code: "link_over" });
  });
});

describe("one's own account", () => {
  it("changes its password with the present one, which ends every other session", async () => {
    const who = await member("finance");
    const [here, there] = [await enter("desk", who.email, "a long password"), await enter("desk", who.email, "a long password")];
    const change = (present: string) => changeOwnPassword(world.app, em(), who, { present, password: "quite another one" }, firefox);
    await expect(change("a wrong password")).rejects.toMatchObject({ faults: { present: { code: "not_the_present_password" } } });
    const fresh = await change("a long password");
    expect(await Promise.all([here, there, fresh].map((token) => sessionSubject(em(), "desk", token, now())))).toEqual([
      undefined,
      undefined,
      who.id,
    ]);
  });
  it("lists where it is signed in, and ends one session or all others", async () => {
    const who = await member("viewer");
    const tokens = [
      await enter("desk", who.email, "a long password"),
      await enter("desk", who.email, "a long password"),
      await enter("desk", who.email, "a long password"),
    ];
    const rows = await ownSessions(em(), who, tokens[0], now());
    expect(rows).toHaveLength(3);
    expect(rows.filter(({ here }) => here)).toMatchObject([{ device: "Firefox on Linux" }]);
    await endOwnSessions(em(), who, { do: "end", id: rows.find(({ here }) => !here)!.id }, tokens[0]);
    expect(await ownSessions(em(), who, tokens[0], now())).toHaveLength(2);
    // Somebody else's session is not theirs to end.
    const other = await member("viewer");
    const theirs = await enter("desk", other.email, "a long password");
    const [foreign] = await sessionsOf(em(), "desk", other.id, undefined, now());
    await endOwnSessions(em(), who, { do: "end", id: foreign!.id }, tokens[0]);
    expect(await sessionSubject(em(), "desk", theirs, now())).toBe(other.id);
    await endOwnSessions(em(), who, { do: "end_others" }, tokens[0]);
    expect(await ownSessions(em(), who, tokens[0], now())).toMatchObject([{ here: true }]);
    await advance(world, 10);
    const later = now();
    await sessionSubject(em(), "desk", tokens[0], later);
    expect((await ownSessions(em(), who, tokens[0], later))[0]!.seenAt).toEqual(later);
  });
});

describe("the vendor", () => {
  const details = async (change: object = {}) =>
    vendorRequest.parse({
      version: await vendorVersion(em()),
      name: "Rook & Rye",
      postalAddress: "1 Quay Street\nGalway",
      country: "IE",
      taxNumbers: [],
      senderName: "Rook",
      senderEmail: "post@rook.example",
      locale: "de-DE",
      ...change,
    });
  it("is said by published pages and emails from the change on, in every process", async () => {
    const context = await openLaunch(world, { offer: false });
    expect((await look(world, context, "optin")).body + (await look(world, context, "")).body).toContain("Marram &amp; Purl");
    await changeVendor(world.app, em(), world.owner, await details());
    expect(world.app.vendor).toMatchObject({
      name: "Rook & Rye",
      country: "IE",
      locale: "de-DE",
      sender: { name: "Rook", email: "post@rook.example" },
    });
    launchesOf(world.app).clear();
    const again = (await look(world, context, "optin")).body + (await look(world, context, "")).body;
    expect(again).toContain("Rook &amp; Rye");
    expect(again).not.toContain("Marram &amp; Purl");
    const ed = await member("editor");
    await askForNewPassword(world.app, em(), "desk", ed.email, "vendor");
    await linkTo(ed.email);
    const [email] = await world.inbox(ed.email);
    expect(email!.raw).toMatch(/From: "?Rook"? <post@rook\.example>/);
    // Another process says so by the database's notice.
    await em().execute("update vendor set name = 'Elsewhere'");
    await em().execute("select pg_notify('vendor_changed', '')");
    await until(() => Promise.resolve(world.app.vendor.name === "Elsewhere"));
  });
  it("that somebody else has changed meanwhile is not overwritten", async () => {
    const stale = await details({ name: "One" });
    await changeVendor(world.app, em(), world.owner, await details({ name: "Two" }));
    await expect(changeVendor(world.app, em(), world.owner, stale)).rejects.toMatchObject({ code: "changed_meanwhile" });
    expect(world.app.vendor.name).toBe("Two");
  });
  it("is refused at the field where it cannot be, and to all but an owner", async () => {
    const wrong = (change: object) =>
      vendorRequest.safeParse({
        version: 1,
        name: "x",
        postalAddress: "",
        country: "IE",
        taxNumbers: [],
        senderName: "",
        senderEmail: "a@b.example",
        locale: "en-IE",
        ...change,
      });
    for (const change of [
      { name: " " },
      { name: "a\r\nBcc: x" },
      { country: "ZZ" },
      { senderEmail: "nobody" },
      { locale: "tlh" },
      { taxNumbers: [{ country: "IE", number: "" }] },
      {
        taxNumbers: [
          { country: "IE", number: "IE1" },
          { country: "IE", number: "IE2" },
        ],
      },
    ])
      expect(wrong(change).success, JSON.stringify(change)).toBe(false);
    await expect(changeVendor(world.app, em(), someone("editor"), await details())).rejects.toMatchObject({ status: 403 });
  });
});
