export interface StartedPostgres {
  url: string;
  found: boolean;
  found: boolean;
  stop: () => Promise<void>;
}
export function startPostgres(options?: { folder?: string; durable?: boolean }): Promise<StartedPostgres>;
export function databaseUrl(url: string, name: string): string;
