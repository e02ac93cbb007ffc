/** Serves the built client files. Their names carry a hash, so they may be kept for ever. */
import { createReadStream, existsSync, statSync } from "node:fs";
import type { IncomingMessage, ServerResponse } from "node:http";
import { extname, join, resolve, sep } from "node:path";

const TYPES: Record<string, string> = {
  ".js": "text/javascript; charset=utf-8",
  ".css": "text/css; charset=utf-8",
  ".svg": "image/svg+xml",
  ".woff2": "font/woff2",
  ".json": "application/json",
  ".png": "image/png",
};

/** True if the request was for a file and has been answered. */
export function serveStatic(folder: string, request: IncomingMessage, response: ServerResponse): boolean {
  if (request.method !== "GET" && request.method !== "HEAD") return false;
  let path: string;
  try {
    path = decodeURIComponent(new URL(request.url ?? "/", "http://here").pathname);
  } catch {
    return false;
  }
  const type = TYPES[extname(path)];
  const file = resolve(join(folder, path));
  if (!type || path.includes("\0") || !file.startsWith(folder + sep) || !existsSync(file)) return false;
  const size = statSync(file).size;
  response.writeHead(200, {
    "content-type": type,
    "content-length": size,
    "cache-control": path.startsWith("/_astro/") ? "public, max-age=31536000, immutable" : "no-cache",
    "x-content-type-options": "nosniff",
  });
  if (request.method === "HEAD") response.end();
  else createReadStream(file).pipe(response);
  return true;
}
