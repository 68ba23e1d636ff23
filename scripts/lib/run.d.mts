import type { ChildProcess } from "node:child_process";
export const root: string;
export function freePort(): Promise<number>;
export function stopChild(child: ChildProcess): Promise<void>;
export function waitFor(url: string, seconds?: number): Promise<void>;
export function startChild(command: string, args: string[], options?: { env?: NodeJS.ProcessEnv }): ChildProcess;
