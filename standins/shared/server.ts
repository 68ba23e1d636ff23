import { createServer, type IncomingMessage } from "node:http";

/** A request as the stand-ins see it. */
export interface Call {
  method: string;
  url: URL;
  params: string[];
  headers: IncomingMessage["headers"];
  body: string;
}

export interface Reply {
  status?: number;
  json?: unknown;
  html?: string;
  location?: string;
  headers?: Record<string, string>;
}

export type Route = [method: string, path: RegExp, handle: (call: Call) => Reply | Promise<Reply>];

const readBody = async (request: IncomingMessage): Promise<string> => {
  const chunks: Buffer[] = [];
  for await (const chunk of request) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks).toString("utf8");
};

/** Serves routes on loopback until the process is asked to stop; `onStop` runs first. */
export const serve = (name: string, port: number, routes: Route[], onStop: () => unknown = () => undefined): void => {
  const server = createServer((request, response) => {
    const answer = async (): Promise<Reply> => {
      const url = new URL(request.url ?? "/", `http://${request.headers.host ?? "127.0.0.1"}`);
      for (const [method, path, handle] of routes) {
        const match = path.exec(url.pathname);
        if (match && method === request.method) {
          return handle({ method, url, params: match.slice(1), headers: request.headers, body: await readBody(request) });
        }
      }
      return { status: 404, json: { error: "there is nothing here" } };
    };
    void answer()
      .catch((error: unknown): Reply => {
        console.error(`${name}: ${error instanceof Error ? error.stack : String(error)}`);
        return { status: 500, json: { error: "something went wrong" } };
      })
      .then(({ status, json, html, location, headers }) => {
        const type = html === undefined ? "application/json" : "text/html; charset=utf-8";
        response.writeHead(location ? 303 : (status ?? 200), {
          "content-type": type,
          "cache-control": "no-store",
          ...(location ? { location } : {}),
          ...headers,
        });
        response.end(html ?? JSON.stringify(json ?? {}));
      });
  });
  server.listen(port, "127.0.0.1");
  const stop = () => {
    server.close();
    server.closeAllConnections();
    void Promise.resolve(onStop()).finally(() => process.exit(0));
  };
  process.on("SIGINT", stop);
  process.on("SIGTERM", stop);
};

/** Text made safe inside HTML. */
export const safe = (value: unknown): string => String(value).replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** A page in the stand-ins' common plain look, which is not that of the app. */
export const page = (title: string, body: string): string =>
  `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${safe(title)}</title><style>
body{font:16px/1.5 system-ui,sans-serif;color:#22252b;background:#f2f2ef;margin:0}main{max-width:880px;margin:0 auto;padding:28px 20px 60px}h1{font-size:26px;margin:0 0 4px}h2{font-size:18px;margin:28px 0 8px}
.note{color:#575c66;margin:0 0 20px}table{width:100%;border-collapse:collapse;background:#fff}td,th{padding:8px 10px;border:1px solid #d9d9d2;text-align:left;vertical-align:top}form.inline{display:inline}
button{font:600 16px system-ui;padding:10px 16px;border:1px solid #22252b;background:#22252b;color:#fff;border-radius:3px;cursor:pointer}button.second{background:#fff;color:#22252b}
label{display:block;margin:10px 0 2px;font-weight:600}input,select{font:16px system-ui;padding:9px 10px;border:1px solid #757a84;border-radius:3px;width:100%;box-sizing:border-box}.wrong{color:#9c1f1a;font-weight:600;min-height:1.4em;margin:8px 0}
.panel{background:#fff;border:1px solid #d9d9d2;padding:18px 20px}.scroll{overflow-x:auto}.long{overflow-wrap:anywhere;min-width:14em}img{max-width:100%}</style></head><body><main>${body}</main></body></html>`;
