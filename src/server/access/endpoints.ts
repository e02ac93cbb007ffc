/**
 * What each address needs. What does not stand here needs the role “edit”: a page that somebody forgot to enter is closed,
 * not open. A test goes through this table with every role, and holds it against src/pages.
 */
import { mayDo, type Role } from "../../core/format/roles.ts";

export type Needs = Role | "anyone";

/** By path, a place standing for every page of the application, then by method. */
export const ENDPOINTS: Readonly<Record<string, Readonly<Record<string, Needs>>>> = {
  "/": { GET: "look" },
  "/[place]": { GET: "look" },
  "/enter": { GET: "anyone" },
  "/health": { GET: "look" },
  "/live": { UPGRADE: "look" },
  "/api/enter": { POST: "anyone" },
  "/api/leave": { POST: "look" },
  "/api/access": { GET: "edit" },
  "/api/access/passcode": { PUT: "edit" },
  "/api/access/pairing": { POST: "edit" },
  "/api/access/session": { DELETE: "edit" },
  "/api/show": { GET: "look", PUT: "edit" },
  "/api/shows": { GET: "edit", POST: "edit", PUT: "edit" },
  "/api/versions": { GET: "edit", POST: "edit" },
  "/api/versions/differences": { GET: "edit" },
  "/api/edit": { POST: "edit" },
  "/api/hold": { POST: "edit" },
  "/api/undo": { POST: "edit" },
  "/api/redo": { POST: "edit" },
  "/api/backups": { GET: "edit", POST: "edit" },
  "/api/stand-ins": { POST: "edit" },
  "/api/demo-show": { POST: "edit" },
  "/api/break-engine": { POST: "edit" },
};

/** What a request needs; `path` as the target says it, without what follows the question mark. */
export function needsOf(method: string, path: string): Needs {
  const entry = ENDPOINTS[path] ?? (/^\/[a-z]+$/.test(path) ? ENDPOINTS["/[place]"] : undefined);
  return entry?.[method === "HEAD" ? "GET" : method] ?? "edit";
}

export type Verdict = "let-in" | "not-signed-in" | "needs-role";

export function verdict(needs: Needs, has: Role | null): Verdict {
  if (needs === "anyone") return "let-in";
  if (has === null) return "not-signed-in";
  return mayDo(has, needs) ? "let-in" : "needs-role";
}
