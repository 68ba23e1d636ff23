import { keepPreviousData, QueryClient, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { AnswerOf, Endpoint, RequestOf } from "../../../contract/endpoint";
import { call, type Call } from "./call";

const client = (): QueryClient => new QueryClient({ defaultOptions: { queries: { retry: 2, staleTime: 10_000, refetchOnWindowFocus: false } } });
// The islands of a screen share what they have read.
const shared = client();
/** In the browser, what all islands have read. On the server every drawing begins with nothing: what one request was shown is not another's. */
const kept = (): QueryClient => (typeof window === "undefined" ? client() : shared);

/** How often a screen that shows the present asks anew while it is in sight. */
const liveEveryMs = 20_000;
const showsPresent = (): boolean => typeof location !== "undefined" && !new URLSearchParams(location.search).has("at");

const answered = async <E extends Endpoint>(endpoint: E, asked: Call<E>): Promise<AnswerOf<E>> => {
  const answer = await call(endpoint, asked);
  if (!answer.ok) throw new Error(answer.message);
  return answer.value;
};

interface Read<Answer> {
  value?: Answer | undefined;
  failure?: string | undefined;
  /** Reads it once more, after it was changed. */
  again: () => void;
}

/**
 * Reads an endpoint as of the instant that the screen shows: its answer once it is there, and why there is none where there is none. What is under
 * way is read again and again while `everyMs` of an answer says how often.
 */
export const useRead = <E extends Endpoint>(
  endpoint: E,
  asked: Call<E>,
  { first, everyMs }: { first?: AnswerOf<E>; everyMs?: (answer: AnswerOf<E>) => number | false } = {},
): Read<AnswerOf<E>> => {
  const { data, error, refetch } = useQuery(
    {
      queryKey: [endpoint.path, asked],
      queryFn: () => answered(endpoint, asked),
      ...(first === undefined ? {} : { initialData: first }),
      refetchInterval: ({ state }) => (state.data !== undefined && everyMs ? everyMs(state.data) : false),
    },
    kept(),
  );
  return { value: data, failure: error?.message, again: () => void refetch() };
};

export interface Parts<Answer> {
  /** What was read so far, part by part. */
  parts: Answer[];
  loading: boolean;
  /** Reads the next part; absent where the last is there. */
  more?: (() => void) | undefined;
  failure?: string | undefined;
  /** Reads what was read once more, after it was changed. */
  again: () => void;
}

/**
 * Reads a long list part by part: each answer says as `next` where the one behind it begins. The server's first answer came with the page.
 * A list of which one part is read follows what happens, as long as the screen shows the present.
 */
export const useParts = <E extends Endpoint>(
  endpoint: E,
  request: RequestOf<E>,
  first: { request: RequestOf<E>; answer: AnswerOf<E> },
  next: (answer: AnswerOf<E>) => string | undefined,
): Parts<AnswerOf<E>> => {
  const [from] = useState(first);
  const isFirst = JSON.stringify(request) === JSON.stringify(from.request);
  const query = useInfiniteQuery(
    {
      queryKey: [endpoint.path, request],
      queryFn: ({ pageParam }) =>
        answered(endpoint, { request: pageParam === "" ? request : { ...(request as object), after: pageParam } } as unknown as Call<E>),
      initialPageParam: "",
      getNextPageParam: next,
      placeholderData: keepPreviousData,
      ...(isFirst ? { initialData: { pages: [from.answer], pageParams: [""] } } : {}),
      refetchInterval: ({ state }) => (showsPresent() && state.data?.pages.length === 1 ? liveEveryMs : false),
    },
    kept(),
  );
  return {
    parts: query.data?.pages ?? [],
    loading: query.isFetchingNextPage || query.isPlaceholderData,
    more: query.hasNextPage ? () => void query.fetchNextPage() : undefined,
    failure: query.error?.message,
    again: () => void query.refetch(),
  };
};
