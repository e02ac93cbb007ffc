/** The door behind the border: it looks who asks, and what the address needs, before any page or endpoint is run. */
import type { IncomingMessage, ServerResponse } from "node:http";
import { problemAdvice } from "../../words/problems.ts";
import { needsOf, verdict } from "./endpoints.ts";
import type { Who } from "./who.ts";

/** Whether the request may go on; if not, it has been answered. */
export function admit(path: string, request: IncomingMessage, response: ServerResponse, who: Who | null): boolean {
  const method = request.method ?? "GET";
  const needs = needsOf(method, path);
  const found = verdict(needs, who?.role ?? null);
  if (found === "let-in") return true;
  const wantsPage = (method === "GET" || method === "HEAD") && /\btext\/html\b/.test(request.headers.accept ?? "");
  if (found === "not-signed-in" && wantsPage) {
    response.writeHead(303, { location: `/enter?to=${encodeURIComponent(path)}`, "cache-control": "no-store" }).end();
    return false;
  }
  const problem =
    found === "not-signed-in"
      ? ({ code: "not-signed-in", path: [] } as const)
      : ({ code: "needs-role", path: [], needs: needs as Who["role"], has: who!.role } as const);
  // A body that nobody reads would keep the connection: it ends with the answer.
  response.writeHead(found === "not-signed-in" ? 401 : 403, {
    "content-type": "application/json",
    "cache-control": "no-store",
    connection: "close",
  });
  response.end(JSON.stringify({ ok: false, problems: [problemAdvice(problem)] }));
  return false;
}
