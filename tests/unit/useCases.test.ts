import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, it } from "vitest";
import { root } from "../../scripts/lib/run.mjs";

const server = join(root, "src/server");
const files = readdirSync(server, { recursive: true, encoding: "utf8" }).filter((file) => file.endsWith(".ts") && !file.endsWith(".test.ts"));

/** The exported functions of a source text that are told who of the desk asks, each with its body. */
const asked = (source: string): { name: string; body: string }[] =>
  [
    ...source.matchAll(
      /^export const (\w+) = (?:async )?\(((?:[^()]|\([^()]*\))*)\)[^=]*=>([\s\S]*?)(?=^export |^const |^type |^interface |(?![\s\S]))/gm,
    ),
  ]
    .filter(([, , parameters]) => /\buser: (?:Pick<)?DeskUser/.test(parameters!))
    .map(([, name, , body]) => ({ name: name!, body: body! }));

// These act for a use case that has asked: they take the user to write down who it was.
const told = ["mustBeAllowed", "keepVersion"];

it("every use case of the desk asks for a permission before anything else", () => {
  const found = files.flatMap((file) => asked(readFileSync(join(server, file), "utf8")).map((one) => ({ file, ...one })));
  expect(found.length).toBeGreaterThan(40);
  const forgets = found.filter(({ name, body }) => !told.includes(name) && !/^\{?\s*mustBeAllowed\(user, /.test(body.trim()));
  expect(forgets.map(({ file, name }) => `${file}: ${name}`)).toEqual([]);
});

it("finds one that forgets to", () => {
  const planted = `export const forget = async (em: EntityManager, user: DeskUser, id: string): Promise<void> => {\n  await em.execute("delete");\n};\n`;
  expect(asked(planted)).toMatchObject([{ name: "forget" }]);
  expect(asked(planted)[0]!.body).not.toContain("mustBeAllowed");
});
