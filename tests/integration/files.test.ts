import { randomBytes, randomUUID } from "node:crypto";
import { mkdtemp, readdir, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { buffer } from "node:stream/consumers";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { diskFiles } from "../../src/outside/fileStore";
import { failureOf } from "../../src/server/platform";
import { moveFiles } from "../../src/server/pages/moveFiles";
import { startWorld, type World } from "../support/world";

let world: World;
let folder: string;
beforeAll(async () => {
  world = await startWorld();
  folder = await mkdtemp(join(tmpdir(), "ink-bell-files-"));
});
afterAll(async () => {
  await world.stop();
  await rm(folder, { recursive: true });
});
const all = async () => (await readdir(folder, { recursive: true, withFileTypes: true })).filter((entry) => entry.isFile()).map(({ name }) => name);

describe("the file store", () => {
  it("keeps the same bytes once, under their hash, and answers any part of them", async () => {
    const files = diskFiles(folder);
    // FIPS 180-4's example of one block.
    const abc = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad";
    for (let n = 0; n < 2; n += 1) {
      const taken = await files.take(Readable.from([Buffer.from("a"), Buffer.from("bc")]));
      expect(taken).toMatchObject({ sha256: abc, bytes: 3, head: Buffer.from("abc") });
      await files.keep(taken);
    }
    expect(await all()).toEqual([abc]);
    expect(String(await buffer(files.read(abc)))).toBe("abc");
    expect(String(await buffer(files.read(abc, { from: 1, to: 1 })))).toBe("b");
  });
  it("leaves nothing of what broke off or was not kept, and reads no other place than its own", async () => {
    const files = diskFiles(folder);
    const before = await all();
    const broken = async function* () {
      yield await Promise.resolve(randomBytes(1024));
      throw new Error("the line went dead");
    };
    await expect(files.take(Readable.from(broken()))).rejects.toThrow("the line went dead");
    const dead = new Readable({ read() {} });
    process.nextTick(() => dead.destroy(new Error("dead before it began")));
    await expect(files.take(dead)).rejects.toThrow("dead before it began");
    await files.drop(await files.take(randomBytes(64)));
    expect(await all()).toEqual(before);
    expect(() => files.read("../../etc/passwd")).toThrow("SHA-256");
  });
  it("says that nothing was changed where the disk is away, and that the server is at fault", async () => {
    await writeFile(join(folder, "no-folder"), "");
    const refused = await diskFiles(join(folder, "no-folder"))
      .take(randomBytes(64))
      .catch((error: unknown) => failureOf(error, true));
    expect(refused).toMatchObject({ status: 503, code: "disk", unexpected: true });
    expect((refused as { text: string }).text).toContain("Nothing was changed");
    expect(failureOf(new Error("any other"), true)).toMatchObject({ status: 500, code: "failed" });
    await rm(join(folder, "no-folder"));
  });
});

describe("uploads that still lie in the database", () => {
  it("move to the file store byte for byte, once, and only then leave the database", async () => {
    const em = world.app.fork();
    const files = diskFiles(join(folder, "moved"));
    const bodies = new Map([1, 2, 3].map((n) => [randomUUID(), randomBytes(n * 1000)]));
    for (const [id, body] of bodies) {
      await em.execute(
        "insert into media (id, kind, name, hash, width, height, widths, extension, bytes, created_at) values (?, 'file', 'x', ?, 0, 0, '{}', 'pdf', ?, now())",
        [id, id, body.length],
      );
      await em.execute("insert into media_file (media_id, name, body) values (?, 'x.pdf', ?)", [id, body]);
    }
    expect(await moveFiles(em, files)).toBe(3);
    expect(await moveFiles(em, files)).toBe(0);
    for (const [id, body] of bodies) {
      const [row] = await em.execute<{ sha256: string; bytes: string; body: null }[]>(
        "select sha256, bytes, body from media_file where media_id = ?",
        [id],
      );
      expect(row!.body).toBeNull();
      expect(Number(row!.bytes)).toBe(body.length);
      expect((await buffer(files.read(row!.sha256))).equals(body)).toBe(true);
    }
  });
});
