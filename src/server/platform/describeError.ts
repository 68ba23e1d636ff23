/**
 * An error for the log: its name, code and place. Not its message: the database's messages quote the statement with
 * its values, and addresses and tokens must not be logged.
 */
export const describeError = (error: unknown): { name: string; code?: string; at?: string } => {
  if (!(error instanceof Error)) return { name: typeof error };
  const { code } = error as { code?: unknown };
  const frames = (error.stack ?? "").split("\n").filter((line) => /^\s+at /.test(line));
  return {
    name: error.name,
    ...(typeof code === "string" ? { code } : {}),
    at: frames
      .slice(0, 6)
      .map((line) => line.trim())
      .join(" ← "),
  };
};
