import { isIP } from "node:net";
import proxyAddr from "proxy-addr";
import { z } from "zod";

const port = z.coerce.number().int().min(1).max(65_535);

/** More accounts at card processors, as JSON: each takes the payments in its currencies. */
const accounts = z.array(
  z.object({ currencies: z.array(z.string().length(3)).min(1), url: z.url(), key: z.string().min(8), noticeSecret: z.string().startsWith("whsec_") }),
);

const listOf = (text: string): string[] =>
  text
    .split(",")
    .map((one) => one.trim())
    .filter(Boolean);

const isNetwork = (text: string): boolean => {
  const [address = "", bits = "", ...more] = text.split("/");
  return more.length === 0 && isIP(address) !== 0 && /^\d{1,3}$/.test(bits) && Number(bits) <= (isIP(address) === 4 ? 32 : 128);
};

/** Everything that may be set from outside, read once. The README lists it. */
const environment = z.object({
  DATABASE_URL: z.url(),
  PORT: port.default(4310),
  /** The address of this machine that the web listens on. */
  HOST: z.string().min(1).default("127.0.0.1"),
  INKBELL_ORIGIN: z.url().optional(),
  INKBELL_SECRET: z.string().min(32, "INKBELL_SECRET must have 32 characters or more"),
  /** What is known of the vendor before anybody has said it at the desk. */
  INKBELL_VENDOR: z.string().default(""),
  INKBELL_VENDOR_COUNTRY: z
    .string()
    .regex(/^[A-Z]{2}$/)
    .default("PT"),
  INKBELL_MAIL_FROM: z.string().default(""),
  /** The folder that holds the bytes of uploads; all processes of the app share it. */
  INKBELL_FILES: z.string().min(1).default(".data/files"),
  INKBELL_ROLE: z.enum(["all", "web", "worker"]).default("all"),
  INKBELL_DEMO: z.enum(["0", "1"]).default("0"),
  INKBELL_TEST_CLOCK: z.enum(["0", "1"]).default("0"),
  /** Addresses or networks of proxies before the app, whose X-Forwarded-For is believed; with commas between them. */
  INKBELL_TRUSTED_PROXIES: z
    .string()
    .default("")
    .transform((text, context) => {
      const listed = listOf(text);
      try {
        proxyAddr.compile(listed);
      } catch {
        context.addIssue({ code: "custom", message: `INKBELL_TRUSTED_PROXIES is no list of addresses or networks: ${text}` });
      }
      return listed;
    }),
  /** Private addresses or networks that webhooks may go to, with commas between them; without it, only public ones. */
  INKBELL_WEBHOOK_NETWORKS: z
    .string()
    .default("")
    .transform((text, context) => {
      const listed = listOf(text);
      for (const one of listed)
        if (isIP(one) === 0 && !isNetwork(one))
          context.addIssue({ code: "custom", message: `INKBELL_WEBHOOK_NETWORKS is no list of addresses or networks: ${text}` });
      return listed;
    }),
  INKBELL_LOG: z.enum(["silent", "error", "info", "debug"]).default("info"),
  CARD_DESK_URL: z.url(),
  CARD_DESK_KEY: z.string().min(8),
  CARD_DESK_NOTICE_SECRET: z.string().startsWith("whsec_"),
  CARD_DESK_TEST_KEY: z.string().min(8),
  CARD_DESK_ACCOUNTS: z
    .string()
    .default("[]")
    .transform((text, context) => {
      try {
        return accounts.parse(JSON.parse(text));
      } catch (error) {
        context.addIssue({ code: "custom", message: `CARD_DESK_ACCOUNTS is not a list of accounts: ${String(error)}` });
        return z.NEVER;
      }
    }),
  MARKET_URL: z.url(),
  MARKET_KEY: z.string().min(8),
  MARKET_NOTICE_SECRET: z.string().startsWith("whsec_"),
  SMTP_URL: z.url(),
  /** Where mail that could not be delivered comes back to; without it, it goes to the sender's address, and nobody is told. */
  INKBELL_RETURN_DOMAIN: z
    .string()
    .regex(/^$|^[\w.-]+$/, "INKBELL_RETURN_DOMAIN is a domain, such as returns.example.com")
    .default(""),
  /** Where the worker listens for it over SMTP. */
  INKBELL_RETURN_HOST: z.string().min(1).default("127.0.0.1"),
  INKBELL_RETURN_PORT: port.optional(),
  MAIL_INBOX_URL: z.url().optional(),
});

export type Config = ReturnType<typeof readConfig>;

/** Reads the configuration; throws a readable list of what is wrong. */
export const readConfig = (env: NodeJS.ProcessEnv) => {
  const read = environment.safeParse(env);
  if (!read.success) throw new Error(`The configuration is not complete:\n${z.prettifyError(read.error)}`);
  const { HOST: host, PORT, INKBELL_ORIGIN } = read.data;
  // What listens on all addresses is reached on loopback, where nobody says otherwise.
  const own = host === "0.0.0.0" || host === "::" ? "127.0.0.1" : host;
  return { ...read.data, origin: INKBELL_ORIGIN ?? `http://${own.includes(":") ? `[${own}]` : own}:${PORT}` };
};
