import { z } from "zod";
import type { Permission } from "../core/access";
import type { RefusalCode } from "../core/words";

const kib = 1024;
/** What a request may weigh where its endpoint does not say otherwise. */
const usual = 128 * kib;
/** Uploads, and files that are imported. */
export const wholeUpload = 80 * kib * kib;
export const wholeExportFile = 200 * kib * kib;
/** A page's draft, a launch's settings, a path: large documents that are saved whole. */
export const wholeDocument = 4 * kib * kib;

/** What any endpoint may refuse: who asks, how it is asked, fields that are wrong, and what is not there. */
export const usualRefusals: readonly RefusalCode[] = [
  "fields",
  "method",
  "not_allowed",
  "not_found",
  "not_json",
  "not_text",
  "signed_out",
  "too_large",
  "too_many",
  "wrong_origin",
];

/** An endpoint of the desk, declared once: the server answers it, the interface calls it, and the access test walks it. */
export interface Endpoint<Path extends string = string, Request extends z.ZodType = z.ZodType, Answer extends z.ZodType = z.ZodType> {
  readonly method: "GET" | "POST";
  /** Below `/api/desk`; what stands in brackets names something: `[slug]` a launch, `[id]` anything by its id. */
  readonly path: Path;
  readonly permission: Permission;
  /** What is asked: the JSON of a POST; the query of a GET, and of a POST whose body is a file. */
  readonly request: Request;
  readonly answer: Answer;
  /** Whether a POST brings a file's bytes as its body, or a GET answers with a file. */
  readonly file: boolean;
  /** Why it may say no, beside what any endpoint may (`usualRefusals`). */
  readonly refusals: readonly RefusalCode[];
  /** Bytes that the body may have. */
  readonly mostBytes: number;
}

/** What the brackets of a path stand for. */
export type Params<Path extends string> = Path extends `${string}[${infer Name}]${infer Rest}` ? Record<Name, string> & Params<Rest> : unknown;

/** What is asked as it is sent, and as it is read. */
export type RequestOf<E extends Endpoint> = z.input<E["request"]>;
export type BodyOf<E extends Endpoint> = z.output<E["request"]>;
export type AnswerOf<E extends Endpoint> = z.output<E["answer"]>;

/** Where nothing is asked or nothing is answered. */
export const nothing = z.object({});
type Nothing = typeof nothing;

interface Asking<Request extends z.ZodType, Answer extends z.ZodType> {
  permission?: Permission;
  request?: Request;
  answer?: Answer;
  refusals?: readonly RefusalCode[];
  mostBytes?: number;
}

const declared =
  (method: Endpoint["method"], most: number, file = false) =>
  <Path extends string, Request extends z.ZodType = Nothing, Answer extends z.ZodType = Nothing>(
    path: Path,
    { permission = "desk.view", request, answer, refusals = [], mostBytes = most }: Asking<Request, Answer> = {},
  ): Endpoint<Path, Request, Answer> => ({
    method,
    path,
    permission,
    // Where neither is given their types are those of `nothing`, which a default of a type parameter cannot tell the checker.
    request: request ?? (nothing as unknown as Request),
    answer: answer ?? (nothing as unknown as Answer),
    refusals,
    mostBytes,
    file,
  });

/** Reads, and changes nothing. */
export const get = declared("GET", 0);
/** Does something, or works out what something would do. */
export const post = declared("POST", usual);
/** Answers with a file to keep. */
export const getFile = declared("GET", 0, true);
/** Takes a file's bytes as the body; what is asked of it stands in the query. */
export const postFile = declared("POST", wholeUpload, true);

/** The address of an endpoint below `/api/desk`, with its brackets filled in. */
export const addressOf = <Path extends string>(path: Path, params: Params<Path>): string =>
  path.replace(/\[(\w+)\]/g, (_, name: string) => encodeURIComponent((params as Record<string, string>)[name] ?? ""));

/** The address of an endpoint on the site. */
export const hrefOf = <E extends Endpoint>({ path }: E, params: Params<E["path"]>): string =>
  `/api/desk/${addressOf(path, params as Params<string>)}`;

/** What the brackets of a path stand for in an address below `/api/desk`; undefined where it is another's. */
export const paramsIn = (path: string, address: string): Record<string, string> | undefined => {
  const [asked, given] = [path.split("/"), address.split("/")];
  if (asked.length !== given.length) return undefined;
  const params: Record<string, string> = {};
  for (const [index, part] of asked.entries()) {
    const name = /^\[(\w+)\]$/.exec(part)?.[1];
    if (name) params[name] = given[index]!;
    else if (part !== given[index]) return undefined;
  }
  return params;
};

/** Of several paths the one that an address means, with what its brackets stand for: `people/count` before `people/[id]`. */
export const pathAt = (paths: Iterable<string>, address: string): { path: string; params: Record<string, string> } | undefined => {
  let best: { path: string; params: Record<string, string> } | undefined;
  for (const path of paths) {
    const params = paramsIn(path, address);
    if (params && (!best || Object.keys(params).length < Object.keys(best.params).length)) best = { path, params };
  }
  return best;
};
