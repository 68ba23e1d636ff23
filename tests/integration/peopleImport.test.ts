import { randomUUID } from "node:crypto";
import { parse } from "papaparse";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { importChoices } from "../../src/core/people";
import { ownedBy } from "../../src/server/delivery";
import {
  cancelImport,
  checkImport,
  importPeople,
  importRecord,
  optIn,
  personRecordOf,
  refusedLines,
  runImport,
  startImport,
  unsubscribe,
} from "../../src/server/people";
import { forgetImportParts } from "../../src/store/people/imports";
import { AccessGrant, Contact, PeopleImport, PersonTag } from "../../src/store/tables";
import { openLaunch, sentBy, someone, startWorld, visitor, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const words = "Yes, write to me about knitting.";
const columns = ["email", "firstName", "country", "tags", "consentAt"].map((is) => ({ is, question: "" }));
const choices = (change: object = {}) => importChoices.parse({ columns, known: "fill", consent: { words, at: null }, tag: "moved in", ...change });
const head = "Email,First name,Country,Tags,Agreed\r\n";
const start = (body: string | Buffer, name = "list.csv") => startImport(world.app, em(), world.owner, name, Buffer.from(body), now());
const check = async (id: string, chosen = choices()) => {
  await checkImport(em(), world.owner, id, chosen, now());
  await importPeople(world.app, id);
  return importRecord(em(), id);
};
const run = async (id: string) => {
  await runImport(em(), world.owner, id, now());
  await importPeople(world.app, id);
  return importRecord(em(), id);
};
const contact = (email: string) => em().findOne(Contact, { email, test: false });
const address = (name: string) => `${name}.${randomUUID().slice(0, 8)}@heddle.example`;

describe("a file of people", () => {
  it("of buyers from elsewhere gives each of them access, without an order, once, and for the reason that is said", async () => {
    const { product } = await openLaunch(world, { offer: false });
    const [una, tove] = [address("una"), address("tove")];
    const known = await start(`${head}${una},Una,Portugal,,`);
    await check(known.id);
    await run(known.id);
    const access = { product: product.id, reason: "Bought in the old shop" };
    const { id } = await start(`${head}${una},Una,Portugal,,\r\n${tove},Tove,DE,,\r\nno address,Finn,,`);
    expect((await check(id, choices({ access }))).counts).toMatchObject({ added: 1, unchanged: 1, refused: 1, granted: 2 });
    expect(await em().count(AccessGrant, { productId: product.id })).toBe(0);
    expect((await run(id)).counts).toMatchObject({ added: 1, unchanged: 1, refused: 1, granted: 2 });
    // A worker that ended before it could say so does its part again.
    await em().nativeUpdate(PeopleImport, { id }, { state: "running", nextPart: 0 });
    await importPeople(world.app, id);
    for (const email of [una, tove])
      expect(await ownedBy(em(), (await contact(email))!.id, now())).toMatchObject([
        { id: product.id, open: true, until: null, via: { kind: "grant", reason: access.reason } },
      ]);
    expect(await em().count(AccessGrant, { productId: product.id })).toBe(2);
    const again = await start(`${head}${una},Una,Portugal,,`);
    await expect(checkImport(em(), world.owner, again.id, choices({ access: { ...access, product: randomUUID() } }), now())).rejects.toMatchObject({
      code: "not_found",
    });
    expect(importChoices.safeParse({ ...choices(), access: { product: product.id, reason: " " } }).error!.issues[0]!.path).toEqual([
      "access",
      "reason",
    ]);
  });
  it("is checked first, and nobody is changed by that; then its people are there with what the file says", async () => {
    const [una, greet, tove] = [address("una"), address("greet"), address("tove")];
    const { id } = await start(
      `${head}${una},Una,Portugal,"vip, fair",2026-03-01\r\n\r\n"${greet}","Gre\r\net",DE,,\r\n${tove},Tove,DE,,2026-03-02T18:00Z\r\nno address,Finn,,,\r\n${una.toUpperCase()},Una again,,,\r\n`,
    );
    const read = await importRecord(em(), id);
    expect(read).toMatchObject({ state: "read", lines: 5, utf8: true, titles: ["Email", "First name", "Country", "Tags", "Agreed"] });
    expect(read.choices.columns.map(({ is }) => is)).toEqual(["email", "firstName", "country", "tags", "skip"]);
    const checked = await check(id);
    // Lines are numbered as an editor shows them: an empty one and a break inside of a cell count.
    expect(checked).toMatchObject({
      state: "checked",
      done: 5,
      counts: { added: 2, changed: 0, unchanged: 0, refused: 3, noConsent: 0 },
      refused: [
        { line: 4, faults: [{ column: "First name" }] },
        { line: 7, faults: [{ column: "Email" }] },
        { line: 8, faults: [{ column: "Email", says: "The same address stands in line 2." }] },
      ],
    });
    expect(await contact(una)).toBeNull();
    expect(await run(id)).toMatchObject({ state: "done", counts: { added: 2, refused: 3 } });
    const made = await contact(una);
    expect(made).toMatchObject({ firstName: "Una", country: "PT", consentText: words, consentAt: new Date("2026-03-01T00:00:00Z"), provenAt: null });
    expect((await em().find(PersonTag, { personId: made!.personId })).map(({ tag }) => tag).sort()).toEqual(["fair", "moved in", "vip"]);
    const record = await personRecordOf(em(), made!.personId, now());
    expect(record.consents).toMatchObject([{ words, file: "list.csv", askedAt: new Date("2026-03-01T00:00:00Z") }]);
    expect(record.timeline.map(({ is }) => is)).toContain("imported");
  });

  it("gives its refused lines back as a file that another parser reads, and that can be mended and brought in again", async () => {
    const { id } = await start(`${head}"no, address",=1+1,DE,,\r\n${address("una")},Una,,,31.12.2025\r\n`);
    await check(id);
    const file = await (await refusedLines(world.app, em(), world.owner, id)).text();
    const { data } = parse<Record<string, string>>(file.trim(), { header: true });
    expect(data).toMatchObject([
      { Email: "no, address", "First name": "'=1+1", Country: "DE", line: "2" },
      { "First name": "Una", Agreed: "31.12.2025", line: "3" },
    ]);
    expect(data[1]!["why"]).toContain("2026-11-30");
    const mended = await start(file.replace("no, address", address("finn")).replace("'=1+1", "Finn").replace("31.12.2025", "2025-12-31"));
    const done = await check(mended.id, choices({ columns: [...columns, { is: "skip" }, { is: "skip" }] }));
    expect(done.counts).toMatchObject({ added: 2, refused: 0 });
  });

  it("is the same whatever it is written with: semicolons, a mark at its beginning, or an old spreadsheet's letters", async () => {
    const [una, zoe] = [address("una"), address("zoe")];
    const semicolons = await start(`\uFEFFEmail;First name\n${una};Una\n`);
    expect(await importRecord(em(), semicolons.id)).toMatchObject({ titles: ["Email", "First name"], utf8: true });
    const old = await start(Buffer.concat([Buffer.from(`Email,First name\n${zoe},Zo`, "latin1"), Buffer.from([0xeb]), Buffer.from("\n")]));
    const two = choices({ columns: columns.slice(0, 2), consent: null });
    expect(await check(old.id, two)).toMatchObject({ utf8: false, counts: { added: 1, noConsent: 1 } });
    await run(old.id);
    expect(await contact(zoe)).toMatchObject({ firstName: "Zoë", consentAt: null });
  });

  it("is refused where it is no CSV file, or holds nobody", async () => {
    const refused = async (body: string | Buffer) =>
      start(body).then(
        () => "taken",
        (error: { faults: Record<string, { why: string }> }) => error.faults["file"]!.why,
      );
    expect(await refused("")).toBe("not_csv");
    expect(await refused(Buffer.from("PK\u0003\u0004 a zipped sheet"))).toBe("not_csv");
    expect(await refused(Buffer.from([0xd0, 0xcf, 0x11, 0xe0, 0, 0]))).toBe("not_csv");
    expect(await refused("Email\r\n\r\n")).toBe("no_rows");
  });
});

describe("people who are known", () => {
  it("are filled up, replaced or kept, and agreed for only where they never decided themselves", async () => {
    const context = await openLaunch(world);
    const joins = async (name: string) => {
      const email = address(name);
      await optIn(em(), context, { email, firstName: "", answers: {} }, sentBy(visitor().visitorId, now(), { page: "" }));
      return email;
    };
    const [blank, gone] = [await joins("blank"), await joins("gone")];
    await em().nativeUpdate(Contact, { email: blank }, { firstName: "", consentAt: null, consentText: null });
    await unsubscribe(em(), (await contact(gone))!.id, now());
    await em().nativeUpdate(Contact, { email: gone }, { consentAt: null });
    const { id } = await start(`${head}${blank},Blanka,PT,,2026-03-01\r\n${gone},Gonda,,,2026-03-01\r\n`);
    expect((await check(id, choices({ known: "keep" }))).counts).toMatchObject({ added: 0, changed: 2 });
    const filled = await check(id);
    expect(filled.counts).toMatchObject({ changed: 2, unchanged: 0 });
    await run(id);
    expect(await contact(blank)).toMatchObject({ firstName: "Blanka", country: "PT", consentText: words });
    expect(await contact(gone)).toMatchObject({ consentAt: null });
    const again = await start(`${head}${blank},Bianca,PT,,2026-04-01\r\n`);
    expect((await check(again.id)).counts).toMatchObject({ changed: 0, unchanged: 1 });
    expect((await check(again.id, choices({ known: "replace" }))).counts).toMatchObject({ changed: 1 });
    await run(again.id);
    expect(await contact(blank)).toMatchObject({ firstName: "Bianca", consentAt: new Date("2026-03-01T00:00:00Z") });
  });
});

describe("an import that is long", () => {
  const rows = 2_500;
  const body = () =>
    head + Array.from({ length: rows }, (_, n) => `${n}.${randomUUID().slice(0, 12)}@heddle.example,Una,PT,,2026-03-01\r\n`).join("");

  it("goes on where a crash cut it off, and counts each line once, whoever works on it", async () => {
    const { id } = await start(body());
    await check(id);
    const before = await em().count(Contact, {});
    await runImport(em(), world.owner, id, now());
    // Two workers at once, and one whose work was already done.
    await Promise.all([importPeople(world.app, id), importPeople(world.app, id)]);
    await importPeople(world.app, id);
    const record = await importRecord(em(), id);
    expect(record).toMatchObject({ state: "done", done: rows, counts: { added: rows, changed: 0, unchanged: 0, refused: 0 } });
    expect((await em().count(Contact, {})) - before).toBe(rows);
    await expect(runImport(em(), world.owner, id, now())).rejects.toMatchObject({ code: "import_state" });
    // What the file held is forgotten after a while; what came of it is not.
    await forgetImportParts(em(), new Date(now().getTime() + 1_000));
    expect((await importRecord(em(), id)).sample).toEqual([]);
  });

  it("is stopped between two parts, and who is in stays", async () => {
    const { id } = await start(body());
    await check(id);
    await runImport(em(), world.owner, id, now());
    await cancelImport(em(), world.owner, id, now());
    await importPeople(world.app, id);
    expect(await importRecord(em(), id)).toMatchObject({ state: "cancelled", done: 0, counts: { added: 0 } });
  });

  it("is checked anew where the check was stopped", async () => {
    const { id } = await start(body());
    await checkImport(em(), world.owner, id, choices(), now());
    await cancelImport(em(), world.owner, id, now());
    await importPeople(world.app, id);
    expect(await importRecord(em(), id)).toMatchObject({ state: "read", choices: { tag: "moved in" } });
    await expect(runImport(em(), world.owner, id, now())).rejects.toMatchObject({ code: "import_state" });
    expect(await check(id)).toMatchObject({ state: "checked", counts: { added: rows } });
  });

  it("is nothing for whoever may only look", async () => {
    const viewer = someone("viewer");
    const { id } = await start(`${head}${address("una")},Una,,,\r\n`);
    for (const attempt of [
      () => startImport(world.app, em(), viewer, "x.csv", Buffer.from("Email\nx@y.example"), now()),
      () => checkImport(em(), viewer, id, choices(), now()),
      () => runImport(em(), viewer, id, now()),
      () => cancelImport(em(), viewer, id, now()),
      () => refusedLines(world.app, em(), viewer, id),
    ])
      await expect(attempt()).rejects.toMatchObject({ code: "not_allowed" });
  });
});
