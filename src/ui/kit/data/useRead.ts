import { QueryClient, useQuery } from "@tanstack/react-query";
import type { z } from "zod";
import { read } from "./send";

// The islands of a screen share what they have read.
const kept = new QueryClient({ defaultOptions: { queries: { retry: 2, staleTime: 10_000, refetchOnWindowFocus: false } } });

/** Reads an endpoint of the desk as of the instant that the screen shows: its answer once it is there, and why there is none where there is none. */
export const useRead = <T>(address: string, answer: z.ZodType<T>): { value?: T | undefined; failure?: string | undefined } => {
  const { data, error } = useQuery({ queryKey: [address], queryFn: () => read(address, answer) }, kept);
  return { value: data, failure: error?.message };
};
