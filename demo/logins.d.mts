export const logins: { what: string; email: string; password: string; role: "owner" | "viewer" | "partner" | "buyer" }[];
