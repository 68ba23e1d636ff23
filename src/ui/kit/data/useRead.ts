import { QueryClient, useQuery } from "@tanstack/react-query";
import type { AnswerOf, Endpoint } from "../../../contract/endpoint";
import { call, type Call } from "./call";

// The islands of a screen share what they have read.
const kept = new QueryClient({ defaultOptions: { queries: { retry: 2, staleTime: 10_000, refetchOnWindowFocus: false } } });

/** Reads an endpoint as of the instant that the screen shows: its answer once it is there, and why there is none where there is none. */
export const useRead = <E extends Endpoint>(endpoint: E, asked: Call<E>): { value?: AnswerOf<E> | undefined; failure?: string | undefined } => {
  const read = async () => {
    const answer = await call(endpoint, asked);
    if (!answer.ok) throw new Error(answer.message);
    return answer.value;
  };
  const { data, error } = useQuery({ queryKey: [endpoint.path, asked], queryFn: read }, kept);
  return { value: data, failure: error?.message };
};
