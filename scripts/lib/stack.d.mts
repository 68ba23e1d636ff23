import type { ChildProcess } from "node:child_process";
export interface Ports {
  app: number;
  card: number;
  market: number;
  mail: number;
  smtp: number;
  returns?: number;
  hooks?: number;
}
export function standinsIn(data: string): string;
export function stackSettings(options: { data: string; databaseUrl: string; ports: Ports; extra?: Record<string, string> }): Record<string, string>;
export function startStandins(options: { data: string; settings: Record<string, string>; ports: Ports }): Promise<() => Promise<unknown>>;
export function startApp(settings: Record<string, string>): Promise<ChildProcess>;
