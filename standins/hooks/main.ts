// Another tool that wants to be told of what happens: it takes signed messages, says whether each signature held, and answers as it is told to.
import { join } from "node:path";
import { Webhook } from "standardwebhooks";
import { page, safe, serve, type Call, type Reply } from "../shared/server";
import { setting, Store } from "../shared/store";

interface Came {
  id: string;
  at: string;
  /** How often the same id had come before. */
  before: number;
  /** Whether the signature held under one of the secrets. */
  held: boolean;
  answered: number;
  body: string;
}

const manners = {
  200: "takes everything",
  503: "is down (503, try again in 10 minutes)",
  500: "fails (500)",
  410: "wants no more (410)",
  303: "sends elsewhere (303)",
  0: "does not answer",
};

const most = 200;
const store = new Store(join(setting("DATA"), "hooks.json"), {
  came: [] as Came[],
  secrets: [process.env["HOOKS_SECRET"]].filter(Boolean) as string[],
  manner: 200,
});
const { state } = store;

const holds = ({ headers, body }: Call): boolean =>
  state.secrets.some((secret) => {
    try {
      new Webhook(secret).verify(body, headers as Record<string, string>);
      return true;
    } catch {
      return false;
    }
  });

const take = async (call: Call): Promise<Reply> => {
  const id = String(call.headers["webhook-id"] ?? "");
  const answered = state.manner;
  state.came.unshift({
    id,
    at: new Date().toISOString(),
    before: state.came.filter((one) => one.id === id).length,
    held: holds(call),
    answered,
    body: call.body.slice(0, 20_000),
  });
  state.came.length = Math.min(state.came.length, most);
  store.save();
  if (answered === 0) await new Promise((wait) => setTimeout(wait, 60_000));
  if (answered === 303) return { location: "/elsewhere" };
  return { status: answered || 504, json: { answered }, headers: answered === 503 ? { "retry-after": "600" } : {} };
};

const board = (): Reply => {
  const rows = state.came.map(
    ({ id, at, before, held, answered, body }) =>
      `<tr><td>${safe(at.replace("T", " ").slice(0, 19))}</td><td class="long">${safe(id)}${before > 0 ? `<br>came before` : ""}</td><td class="${held ? "" : "wrong"}">${held ? "signature holds" : "signature does not hold"}</td><td>${answered || "nothing"}</td><td class="long"><code>${safe(body)}</code></td></tr>`,
  );
  const choices = Object.entries(manners).map(
    ([value, words]) => `<option value="${value}"${Number(value) === state.manner ? " selected" : ""}>${safe(words)}</option>`,
  );
  return {
    html: page(
      "Another tool",
      `<h1>Another tool</h1><p class="note">Send webhooks to <code>/in</code> here. It keeps the newest ${most}, and says whether each signature holds.</p>
<div class="panel"><form method="post" action="/manner"><label for="manner">This tool</label><select id="manner" name="manner">${choices.join("")}</select><p><button>Apply</button></p></form>
<form method="post" action="/secret"><label for="secret">A secret that it checks signatures with</label><input id="secret" name="secret" placeholder="whsec_…" autocomplete="off"><p><button class="second">Add the secret</button></p></form></div>
<h2>${state.came.length} came</h2><div class="scroll"><table><thead><tr><th>At, UTC</th><th>Id</th><th>Signature</th><th>Answered</th><th>Says</th></tr></thead><tbody>${rows.join("")}</tbody></table></div>`,
    ),
  };
};

const field = (call: Call, name: string): string => (new URLSearchParams(call.body).get(name) ?? "").trim();

serve("hooks", Number(setting("PORT")), [
  ["GET", /^\/healthz$/, () => ({ json: { ok: true } })],
  ["POST", /^\/in$/, take],
  ["GET", /^\/$/, board],
  ["GET", /^\/api\/came$/, () => ({ json: { came: state.came } })],
  [
    "POST",
    /^\/manner$/,
    (call) => {
      const asked = Number(field(call, "manner"));
      if (Object.keys(manners).includes(String(asked))) state.manner = asked;
      store.save();
      return { location: "/" };
    },
  ],
  [
    "POST",
    /^\/secret$/,
    (call) => {
      const secret = field(call, "secret");
      if (secret.startsWith("whsec_") && !state.secrets.includes(secret)) state.secrets.push(secret);
      store.save();
      return { location: "/" };
    },
  ],
]);
