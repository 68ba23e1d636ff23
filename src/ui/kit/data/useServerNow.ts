import { useEffect, useState } from "react";

/** The server's time as it passes, in milliseconds. Starts at what the page was sent with, and reads only elapsed time here. */
export const useServerNow = (sentAt: number): number => {
  const [now, setNow] = useState(sentAt);
  useEffect(() => {
    const started = performance.now();
    const timer = setInterval(() => setNow(sentAt + performance.now() - started), 1000);
    return () => clearInterval(timer);
  }, [sentAt]);
  return now;
};
