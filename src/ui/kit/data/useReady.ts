import { useEffect, useState } from "react";

/** False until the screen answers to what is typed: what is put into a field before that would be lost. */
export const useReady = (): boolean => {
  const [ready, setReady] = useState(false);
  useEffect(() => setReady(true), []);
  return ready;
};
