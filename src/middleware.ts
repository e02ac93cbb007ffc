import { defineMiddleware } from "astro:middleware";
import { createHash } from "node:crypto";

/**
 * A strict Content-Security-Policy for every page. Astro starts its islands with inline scripts; only scripts
 * with the very text that was rendered may run. Data reach a page as attributes, never as script.
 */
const INLINE_SCRIPT = /<script(?![^>]*\ssrc=)[^>]*>([\s\S]*?)<\/script>/g;

export const onRequest = defineMiddleware(async (_context, next) => {
  const response = await next();
  if (!response.headers.get("content-type")?.startsWith("text/html")) return response;
  const html = await response.text();
  const scripts = Array.from(html.matchAll(INLINE_SCRIPT), (match) => match[1] ?? "");
  const hashes = scripts.map((text) => `'sha256-${createHash("sha256").update(text).digest("base64")}'`);
  const policy = [
    "default-src 'self'",
    `script-src 'self' ${[...new Set(hashes)].join(" ")}`,
    // Faders and lights are placed by style attributes.
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join("; ");
  const headers = new Headers(response.headers);
  headers.set("content-security-policy", policy);
  headers.delete("content-length");
  return new Response(html, { status: response.status, headers });
});
