// The processes around the app: database, stand-ins, and the app itself, with the settings that tie them together.
import { randomBytes } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { root, startChild, stopChild, waitFor } from "./run.mjs";

/** Secrets of this installation, made at the first start and kept in its data folder. */
const secretsIn = (data) => {
  const file = join(data, "secrets.json");
  const kept = existsSync(file) ? JSON.parse(readFileSync(file, "utf8")) : {};
  const secret = () => randomBytes(32).toString("base64");
  const made = {
    INKBELL_SECRET: secret(),
    CARD_DESK_KEY: secret(),
    CARD_DESK_NOTICE_SECRET: `whsec_${secret()}`,
    CARD_DESK_TEST_KEY: secret(),
    MARKET_KEY: secret(),
    MARKET_NOTICE_SECRET: `whsec_${secret()}`,
    HOOKS_SECRET: `whsec_${secret()}`,
    // An older installation keeps what it has, and gets what is new.
    ...kept,
  };
  mkdirSync(data, { recursive: true });
  writeFileSync(file, JSON.stringify(made, undefined, 2), { mode: 0o600 });
  return made;
};

/** Where the stand-ins keep what they remember. */
export const standinsIn = (data) => join(data, "standins");

/** The settings of the whole stack. `ports`: app, card, market, mail, smtp, returns, and hooks where another tool is to be told of what happens. */
export const stackSettings = ({ data, databaseUrl, ports, extra = {} }) => ({
  ...secretsIn(data),
  DATABASE_URL: databaseUrl,
  PORT: String(ports.app),
  INKBELL_FILES: join(data, "files"),
  CARD_DESK_URL: `http://127.0.0.1:${ports.card}`,
  MARKET_URL: `http://127.0.0.1:${ports.market}`,
  SMTP_URL: `smtp://127.0.0.1:${ports.smtp}`,
  INKBELL_RETURN_DOMAIN: "returns.localhost",
  INKBELL_RETURN_PORT: String(ports.returns),
  MAIL_INBOX_URL: `http://127.0.0.1:${ports.mail}`,
  // The stand-in of another tool stands on this machine.
  HOOKS_URL: ports.hooks ? `http://127.0.0.1:${ports.hooks}/in` : "",
  INKBELL_WEBHOOK_NETWORKS: ports.hooks ? "127.0.0.1" : "",
  ...extra,
});

/** Where the app is reached: on its own address, or on loopback where it listens on all. */
export const reachedAt = (port, host = process.env.HOST ?? "127.0.0.1") => {
  const own = host === "0.0.0.0" || host === "::" ? "127.0.0.1" : host;
  return `http://${own.includes(":") ? `[${own}]` : own}:${port}`;
};

/** Starts the stand-ins and waits until they answer. Returns a function that stops them. */
export const startStandins = async ({ data, settings, ports }) => {
  const tsx = (script, env) =>
    startChild(process.execPath, ["--import", "tsx", script], { env: { ...process.env, ...settings, DATA: standinsIn(data), ...env } });
  const notices = (name) => ({ NOTICE_URL: `${reachedAt(ports.app)}/api/notices/${name}` });
  const children = [
    tsx("standins/card-desk/main.ts", { PORT: String(ports.card), ...notices("card-desk") }),
    tsx("standins/marketplace/main.ts", { PORT: String(ports.market), ...notices("market") }),
    ...(ports.hooks ? [tsx("standins/hooks/main.ts", { PORT: String(ports.hooks) })] : []),
    tsx("standins/mail/main.ts", { PORT: String(ports.mail), SMTP_PORT: String(ports.smtp), RETURNS_URL: `smtp://127.0.0.1:${ports.returns}` }),
  ];
  await Promise.all(
    [ports.card, ports.market, ports.mail, ...(ports.hooks ? [ports.hooks] : [])].map((port) => waitFor(`http://127.0.0.1:${port}/healthz`)),
  );
  return () => Promise.all(children.map(stopChild));
};

/** Starts the built app and waits until it is ready. */
export const startApp = async (settings) => {
  const child = startChild(process.execPath, ["--enable-source-maps", join(root, "dist/server/entry.mjs")], {
    env: { ...process.env, NODE_ENV: "production", ...settings },
  });
  await Promise.race([
    waitFor(`${reachedAt(settings.PORT)}/healthz`),
    new Promise((_, fail) => child.once("exit", (code) => fail(new Error(`the app ended with ${code} while starting`)))),
  ]);
  return child;
};
