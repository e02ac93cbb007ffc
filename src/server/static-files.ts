/**
 * Serves the built client files: compressed as they were at build, with what HTTP (RFC 9110) offers to whoever has them
 * already (sections 8.8 and 13) or wants a part (section 14). A file that goes away while it is sent ends its answer, and
 * nothing else.
 */
import { createReadStream, type Stats, statSync } from "node:fs";
import type { IncomingMessage, ServerResponse } from "node:http";
import { extname, join, resolve, sep } from "node:path";
import { pipeline } from "node:stream";

const TYPES: Readonly<Record<string, string>> = {
  ".js": "text/javascript; charset=utf-8",
  ".css": "text/css; charset=utf-8",
  ".html": "text/html; charset=utf-8",
  ".svg": "image/svg+xml",
  ".woff2": "font/woff2",
  ".json": "application/json",
  ".png": "image/png",
};

/** What tools/compress.mjs leaves beside a file, the smallest first. */
const CODINGS = [
  { name: "br", ending: ".br" },
  { name: "gzip", ending: ".gz" },
] as const;

interface Representation {
  readonly path: string;
  readonly stats: Stats;
  readonly coding: string | null;
  /** It tells this file, as it is now and in this coding, from every other. */
  readonly tag: string;
}

/** True if the request was for a file and has been, or is being, answered. */
export function serveStatic(folder: string, request: IncomingMessage, response: ServerResponse): boolean {
  if (request.method !== "GET" && request.method !== "HEAD") return false;
  const path = pathOf(request.url);
  if (path === null) return false;
  const type = TYPES[extname(path)];
  const file = resolve(join(folder, path));
  if (!type || !file.startsWith(folder + sep)) return false;
  const plain = fileAt(file, null);
  if (!plain) return false;
  const { range, "accept-encoding": accepted = "" } = request.headers;
  const chosen = (range === undefined ? compressed(file, plain, String(accepted)) : null) ?? plain;
  response.setHeader("etag", chosen.tag);
  response.setHeader("last-modified", plain.stats.mtime.toUTCString());
  // A name with a hash in it is never used for anything else.
  response.setHeader(
    "cache-control",
    path.startsWith("/_astro/") ? "public, max-age=31536000, immutable" : "public, no-cache",
  );
  response.setHeader("vary", "accept-encoding");
  response.setHeader("x-content-type-options", "nosniff");
  if (isFresh(request, chosen)) {
    response.writeHead(304).end();
    return true;
  }
  response.setHeader("content-type", type);
  response.setHeader("accept-ranges", "bytes");
  if (chosen.coding) response.setHeader("content-encoding", chosen.coding);
  const part = range !== undefined && rangeHolds(request, chosen) ? partOf(range, chosen.stats.size) : "whole";
  if (part === "none") {
    response.writeHead(416, { "content-range": `bytes */${chosen.stats.size}` }).end();
    return true;
  }
  send(request, response, chosen, part);
  return true;
}

/** Null where it cannot be the path of a file. */
function pathOf(url = "/"): string | null {
  try {
    const path = decodeURIComponent(new URL(url, "http://here").pathname);
    return path.includes("\0") ? null : path;
  } catch {
    return null;
  }
}

function fileAt(path: string, coding: string | null): Representation | null {
  try {
    const stats = statSync(path);
    if (!stats.isFile()) return null;
    const own = `${stats.size.toString(16)}-${Math.round(stats.mtimeMs).toString(16)}`;
    return { path, stats, coding, tag: `"${own}${coding ? `-${coding}` : ""}"` };
  } catch {
    return null;
  }
}

/** The smallest that the other end takes and that is not older than the file; null = none. */
function compressed(file: string, plain: Representation, accepted: string): Representation | null {
  for (const { name, ending } of CODINGS) {
    const found = takes(accepted, name) ? fileAt(file + ending, name) : null;
    if (found && found.stats.mtimeMs >= plain.stats.mtimeMs) return found;
  }
  return null;
}

/** Whether an Accept-Encoding takes this coding (RFC 9110, section 12.5.3): "*" is any that is not named, q=0 is none. */
export function takes(accepted: string, coding: string): boolean {
  let any = false;
  for (const item of accepted.toLowerCase().split(",")) {
    const [name = "", ...parameters] = item.split(";").map((p) => p.trim());
    const refused = parameters.some((p) => /^q=0(\.0*)?$/.test(p));
    if (name === coding) return !refused;
    if (name === "*") any = !refused;
  }
  return any;
}

/** Whether who asks has it already (RFC 9110, section 13.1.2 and 13.1.3): the tag decides, without one the time. */
function isFresh({ headers }: IncomingMessage, { tag, stats }: Representation): boolean {
  const tags = headers["if-none-match"];
  if (tags !== undefined)
    return tags.trim() === "*" || tags.split(",").some((t) => t.trim().replace(/^W\//, "") === tag);
  const since = Date.parse(headers["if-modified-since"] ?? "");
  return !Number.isNaN(since) && Math.floor(stats.mtimeMs / 1000) * 1000 <= since;
}

/** Whether a range is still one of what it was asked of (RFC 9110, section 13.1.5). */
function rangeHolds({ headers }: IncomingMessage, { tag, stats }: Representation): boolean {
  const asked = headers["if-range"];
  if (asked === undefined) return true;
  return String(asked).startsWith('"') ? asked === tag : String(asked) === stats.mtime.toUTCString();
}

interface Part {
  readonly from: number;
  /** The last byte, itself included. */
  readonly to: number;
}

/** One range of bytes (RFC 9110, section 14.1.2). Several, or what is no range, are answered with the whole. */
export function partOf(range: string, size: number): Part | "whole" | "none" {
  const found = /^bytes=(\d*)-(\d*)$/.exec(range.trim());
  const [, first = "", last = ""] = found ?? [];
  if (!found || (first === "" && last === "")) return "whole";
  if (first === "") {
    const count = Math.min(Number(last), size);
    return count === 0 ? "none" : { from: size - count, to: size - 1 };
  }
  const from = Number(first);
  const to = last === "" ? size - 1 : Math.min(Number(last), size - 1);
  if (last !== "" && Number(last) < from) return "whole";
  return from < size ? { from, to } : "none";
}

function send(
  request: IncomingMessage,
  response: ServerResponse,
  { path, stats }: Representation,
  part: Part | "whole",
): void {
  const { size } = stats;
  const { from, to } = part === "whole" ? { from: 0, to: size - 1 } : part;
  response.statusCode = part === "whole" ? 200 : 206;
  if (part !== "whole") response.setHeader("content-range", `bytes ${from}-${to}/${size}`);
  response.setHeader("content-length", to - from + 1);
  if (request.method === "HEAD" || size === 0) {
    response.end();
    return;
  }
  const stream = createReadStream(path, { start: from, end: to });
  // Gone since it was looked at: nothing has been sent yet.
  const gone = () => {
    for (const name of response.getHeaderNames()) response.removeHeader(name);
    response.writeHead(404, { "content-type": "text/plain; charset=utf-8" }).end("There is no such file any more.\n");
  };
  stream.once("error", gone);
  // From here on an error of either end, or a reader that leaves, ends both.
  stream.once("open", () => {
    stream.off("error", gone);
    pipeline(stream, response, () => {});
  });
}
