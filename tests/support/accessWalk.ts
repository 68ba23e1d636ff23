import { can, roles, type Permission, type Role } from "../../src/core/access";
import type { RouteRule } from "../../src/server/platform/http/routes";

/** How the site answered a request: its status, and what it said. */
export interface Walked {
  status: number;
  body: string;
}
type Ask = (pattern: string, method: "GET" | "POST" | "DELETE", role: Role) => Promise<Walked>;

const refusedTo = ({ status, body }: Walked, pattern: string, permission: Permission): boolean => {
  if (status !== 403) return false;
  if (!pattern.startsWith("/api/")) return true;
  const said = JSON.parse(body) as { code?: string; refusal?: { permission?: string } };
  return said.code === "not_allowed" && said.refusal?.permission === permission;
};

/**
 * Asks every endpoint of the desk by each of its methods, and by one that it has not, as each role, and says where the answer is
 * not what its permission promises: `viewer, POST /api/desk/tax: 200 without tax.edit`. Empty where all are guarded.
 */
export const accessFaults = async (rules: Record<string, RouteRule>, ask: Ask): Promise<string[]> => {
  const faults: string[] = [];
  for (const [pattern, { who, allow = {} }] of Object.entries(rules)) {
    if (who !== "desk") continue;
    const methods = Object.entries(allow) as ["GET" | "POST", Permission][];
    if (methods.length === 0) faults.push(`${pattern}: no method is declared`);
    for (const [method, permission] of methods) {
      for (const role of roles) {
        const answer = await ask(pattern, method, role);
        const said = `${role}, ${method} ${pattern}: ${answer.status}`;
        if (!can({ role }, permission)) {
          if (!refusedTo(answer, pattern, permission)) faults.push(`${said} without ${permission}`);
        } else if ([401, 403, 500].includes(answer.status)) faults.push(`${said} with ${permission}`);
      }
    }
    const other = allow.POST ? "DELETE" : "POST";
    const { status } = await ask(pattern, other, "owner");
    if (status !== 405) faults.push(`${other} ${pattern}: ${status}, and no such method is declared`);
  }
  return faults;
};
