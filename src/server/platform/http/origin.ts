const loopback = new Set(["localhost", "127.0.0.1", "[::1]"]);

/**
 * Whether an `Origin` header names this site: its scheme, host and port, as configured. On loopback the names of the
 * machine for itself count as one.
 */
export const isOwnOrigin = (origin: string | null, configured: string): boolean => {
  if (origin === null || !URL.canParse(origin)) return false;
  const [asks, own] = [new URL(origin), new URL(configured)];
  if (asks.origin === own.origin) return true;
  return asks.protocol === own.protocol && asks.port === own.port && loopback.has(asks.hostname) && loopback.has(own.hostname);
};
