import { mkdirSync, mkdtempSync, rmSync, unlinkSync, writeFileSync } from "node:fs";
import { createServer, type IncomingHttpHeaders, request, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { brotliCompressSync, brotliDecompressSync, gunzipSync, gzipSync } from "node:zlib";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { partOf, serveStatic, takes } from "./static-files.ts";

const TEXT = "let lantern = 1;\n".repeat(400);
const LARGE = Buffer.alloc(8 * 1024 * 1024, "w");

describe("built files", () => {
  const above = mkdtempSync(join(tmpdir(), "velvet-static-"));
  const folder = join(above, "client");
  let server: Server;
  let port = 0;

  beforeAll(async () => {
    mkdirSync(join(folder, "_astro", "folder.js"), { recursive: true });
    writeFileSync(join(above, "secret.js"), "not yours");
    writeFileSync(join(folder, "_astro", "app.js"), TEXT);
    writeFileSync(join(folder, "_astro", "app.js.br"), brotliCompressSync(TEXT));
    writeFileSync(join(folder, "_astro", "app.js.gz"), gzipSync(TEXT));
    writeFileSync(join(folder, "mark.svg"), "<svg/>");
    writeFileSync(join(folder, "empty.css"), "");
    writeFileSync(join(folder, "large.js"), LARGE);
    server = createServer((asked, answer) => {
      if (!serveStatic(folder, asked, answer)) answer.writeHead(404).end("nobody has it");
    });
    await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
    port = (server.address() as AddressInfo).port;
  });
  afterAll(async () => {
    await new Promise((done) => server.close(done));
    rmSync(above, { recursive: true });
  });

  interface Got {
    status: number;
    headers: IncomingHttpHeaders;
    body: Buffer;
  }

  function get(path: string, headers: Record<string, string | undefined> = {}, method = "GET"): Promise<Got> {
    return new Promise((resolve, reject) => {
      const asked = request(
        {
          host: "127.0.0.1",
          port,
          path,
          headers: Object.fromEntries(Object.entries(headers).filter(([, v]) => v !== undefined)),
          method,
        },
        (answer) => {
          const pieces: Buffer[] = [];
          answer.on("data", (piece: Buffer) => pieces.push(piece));
          answer.on("error", reject);
          answer.on("end", () =>
            resolve({ status: answer.statusCode!, headers: answer.headers, body: Buffer.concat(pieces) }),
          );
        },
      );
      asked.on("error", reject);
      asked.end();
    });
  }

  test("go out as small as the other end takes them", async () => {
    const plain = await get("/_astro/app.js");
    expect(plain.body.toString()).toBe(TEXT);
    expect(plain.headers["content-encoding"]).toBeUndefined();
    const br = await get("/_astro/app.js", { "accept-encoding": "gzip, deflate, br" });
    expect(br.headers["content-encoding"]).toBe("br");
    expect(brotliDecompressSync(br.body).toString()).toBe(TEXT);
    const gz = await get("/_astro/app.js", { "accept-encoding": "gzip, br;q=0" });
    expect(gz.headers["content-encoding"]).toBe("gzip");
    expect(gunzipSync(gz.body).toString()).toBe(TEXT);
    for (const got of [plain, br, gz]) {
      expect(got.headers).toMatchObject({
        vary: "accept-encoding",
        "content-type": "text/javascript; charset=utf-8",
        "content-length": String(got.body.length),
        "x-content-type-options": "nosniff",
      });
      expect(got.headers["cache-control"]).toContain("immutable");
    }
    expect(new Set([plain, br, gz].map((g) => g.headers.etag)).size).toBe(3);
  });

  test("are not sent again to whoever has them", async () => {
    const { headers } = await get("/mark.svg");
    expect(headers["cache-control"]).toBe("public, no-cache");
    const { etag = "", "last-modified": modified = "" } = headers;
    for (const have of [
      { "if-none-match": etag },
      { "if-none-match": `"other", W/${etag}` },
      { "if-none-match": "*" },
      { "if-modified-since": modified },
    ]) {
      const got = await get("/mark.svg", have);
      expect(got.status, JSON.stringify(have)).toBe(304);
      expect(got.body).toHaveLength(0);
      expect(got.headers.etag).toBe(etag);
    }
    for (const have of [
      { "if-none-match": '"other"' },
      { "if-modified-since": "Thu, 01 Jan 1970 00:00:00 GMT" },
      { "if-modified-since": "yesterday" },
      // The tag decides, not the time.
      { "if-none-match": '"other"', "if-modified-since": modified },
    ])
      expect((await get("/mark.svg", have)).status, JSON.stringify(have)).toBe(200);
  });

  test("are sent in part where a part is asked for", async () => {
    const part = await get("/_astro/app.js", { range: "bytes=4-10", "accept-encoding": "br" });
    expect(part.status).toBe(206);
    expect(part.body.toString()).toBe(TEXT.slice(4, 11));
    expect(part.headers).toMatchObject({
      "content-range": `bytes 4-10/${TEXT.length}`,
      "content-length": "7",
    });
    const none = await get("/_astro/app.js", { range: `bytes=${TEXT.length}-` });
    expect(none.status).toBe(416);
    expect(none.headers["content-range"]).toBe(`bytes */${TEXT.length}`);
    const changed = await get("/_astro/app.js", { range: "bytes=4-10", "if-range": '"other"' });
    expect(changed.status).toBe(200);
    expect(changed.body).toHaveLength(TEXT.length);
    const same = await get("/_astro/app.js", { range: "bytes=4-10", "if-range": part.headers.etag! });
    expect(same.status).toBe(206);
  });

  test("HEAD tells what GET would, without the body; an empty file is empty", async () => {
    const head = await get("/_astro/app.js", { "accept-encoding": "br" }, "HEAD");
    expect(head.body).toHaveLength(0);
    expect(head.headers["content-length"]).toBe(String(brotliCompressSync(TEXT).length));
    const empty = await get("/empty.css");
    expect([empty.status, empty.headers["content-length"]]).toEqual([200, "0"]);
  });

  test("nothing else is handed out", async () => {
    for (const path of ["/../secret.js", "/%2e%2e/secret.js", "/_astro/app.js.br", "/_astro/folder.js", "/none.js"])
      expect((await get(path)).body.toString(), path).toBe("nobody has it");
    expect((await get("/%00.js")).status).toBe(404);
    expect((await get("/%zz.js")).status).toBe(404);
    expect((await get("/mark.svg", {}, "POST")).status).toBe(404);
  });

  test("one that goes away, or whose reader does, ends its answer and nothing else", async () => {
    await new Promise<void>((done) => {
      const asked = request({ host: "127.0.0.1", port, path: "/large.js" }, (answer) => {
        answer.once("data", () => {
          unlinkSync(join(folder, "large.js"));
          asked.destroy();
        });
        answer.on("error", () => done());
        answer.on("close", () => done());
      });
      asked.on("error", () => done());
      asked.end();
    });
    expect((await get("/large.js")).status).toBe(404);
    expect((await get("/mark.svg")).status).toBe(200);
  });
});

test("a range of bytes is one of RFC 9110, or the whole", () => {
  expect(partOf("bytes=0-0", 10)).toEqual({ from: 0, to: 0 });
  expect(partOf("bytes=3-", 10)).toEqual({ from: 3, to: 9 });
  expect(partOf("bytes=3-99", 10)).toEqual({ from: 3, to: 9 });
  expect(partOf("bytes=-4", 10)).toEqual({ from: 6, to: 9 });
  expect(partOf("bytes=-99", 10)).toEqual({ from: 0, to: 9 });
  for (const none of ["bytes=10-", "bytes=10-12", "bytes=-0"]) expect(partOf(none, 10), none).toBe("none");
  for (const whole of ["bytes=5-3", "bytes=-", "bytes=0-1,3-4", "lines=1-2", "bytes=a-b", ""])
    expect(partOf(whole, 10), whole).toBe("whole");
});

test("an Accept-Encoding names what it takes; “*” is the rest, and q=0 is none", () => {
  for (const yes of ["br", "gzip, br", "BR;q=0.5", "*", "gzip;q=0, *"]) expect(takes(yes, "br"), yes).toBe(true);
  for (const no of ["", "gzip", "br;q=0", "br;q=0.000", "*, br;q=0", "*;q=0"]) expect(takes(no, "br"), no).toBe(false);
});
