/** Whatever comes in over a socket is answered or closed, and ends nothing. */
import { once } from "node:events";
import { createServer, type Server } from "node:http";
import { type AddressInfo, connect } from "node:net";
import { afterEach, beforeEach, describe, expect, test } from "vitest";
import { WebSocket } from "ws";
import { AT_THIS_COMPUTER } from "./access/who.ts";
import { guardBorder, pathOfTarget } from "./border.ts";
import { gateFor } from "./guard-requests.ts";
import { bodyText } from "./json-answer.ts";
import { LIVE_PATH, LiveHub } from "./live/hub.ts";
import { TrafficLog } from "./live/traffic-log.ts";

let server: Server;
let port: number;
let hub: LiveHub;
let failed: unknown[];
let faults: unknown[];
const note = (error: unknown) => void faults.push(error);

beforeEach(async () => {
  failed = [];
  faults = [];
  process.on("uncaughtException", note);
  process.on("unhandledRejection", note);
  hub = new LiveHub({
    message: () => {},
    refused: () => {},
    devicesChanged: () => {},
    left: () => {},
    snapshot: () => ({ kind: "notice", text: "hello" }),
    areTwoShows: () => false,
    changes: () => null,
    traffic: new TrafficLog(
      () => undefined,
      0,
      () => {},
    ),
  });
  server = createServer();
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  port = (server.address() as AddressInfo).port;
  guardBorder(server, gateFor({ host: "127.0.0.1", port }), {
    // In the place of the pages: it reads the target as they do, and fails as they may.
    request: async (request, response) => {
      if (request.url === "/at-once") throw new Error("a page that fails");
      const url = new URL(request.url!, `http://${request.headers.host}`);
      for await (const _ of request) if (url.pathname === "/late") throw new Error("a body that fails");
      response.end(url.pathname);
    },
    upgrade: (path, request, socket, head) => {
      if (path !== LIVE_PATH) return false;
      hub.upgrade(request, socket, head, AT_THIS_COMPUTER);
      return true;
    },
    failed: (error) => failed.push(error),
  });
});
afterEach(async () => {
  hub.close();
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
  process.off("uncaughtException", note);
  process.off("unhandledRejection", note);
});

/** Says bytes to the server and answers all that it says until it closes, or the first so many characters. */
async function ask(bytes: string | Buffer, enough = 4096): Promise<string> {
  const socket = connect(port, "127.0.0.1");
  socket.on("error", () => {});
  let text = "";
  socket.on("data", (piece) => {
    text += piece.toString("latin1");
    if (text.length >= enough) socket.destroy();
  });
  socket.end(bytes); // the server answers what it has, and closes
  await once(socket, "close");
  return text;
}
const status = (answer: string) => Number(answer.slice(9, 12));
const get = (target: string, more = "") =>
  `GET ${target} HTTP/1.1\r\nhost: 127.0.0.1:${port}\r\nconnection: close\r\n${more}\r\n`;
const upgrade = (target: string, more = "") =>
  get(
    target,
    `connection: Upgrade\r\nupgrade: websocket\r\nsec-websocket-version: 13\r\nsec-websocket-key: AAAAAAAAAAAAAAAAAAAAAA==\r\n${more}`,
  );
const alive = async () => expect(await ask(get("/alive"))).toMatch(/^HTTP\/1.1 200 .*\/alive/s);

describe("the target of a request", () => {
  test.each([
    ["/", "/"],
    ["/map?a=b", "/map"],
    ["/%zz", "/%zz"],
    ["/a/../b", "/b"],
    ["//", null],
    ["//[", null],
    ["//evil.example/live", null],
    ["*", null],
    ["http://127.0.0.1/live", null],
    ["", null],
    [undefined, null],
    [`/${"a".repeat(5000)}`, null],
    ["/\\evil.example", null],
    ["/a/..//evil.example", null],
  ])("“%s” leads to %s", (target, path) => {
    expect(pathOfTarget(target)).toBe(path);
  });
});

describe("the border", () => {
  test.each(["//", "//[", "*", "http://[", "//evil.example/", "/\u00e9"])(
    "a request for “%s” is answered, as a page and as a socket",
    async (target) => {
      expect(status(await ask(get(target)))).toBeGreaterThanOrEqual(200);
      await ask(upgrade(target));
      await alive();
      expect(faults).toEqual([]);
    },
  );

  test("a page that fails, at once or while its body comes, is answered for itself alone", async () => {
    expect(status(await ask(get("/at-once")))).toBe(500);
    const body = `POST /late HTTP/1.1\r\nhost: 127.0.0.1:${port}\r\nconnection: close\r\ncontent-length: 3\r\n\r\nabc`;
    expect(status(await ask(body))).toBe(500);
    expect(failed).toHaveLength(2);
    await alive();
    expect(faults).toEqual([]);
  });

  test("a live socket is opened for our own page and for nobody else", async () => {
    expect(status(await ask(upgrade(LIVE_PATH, `origin: http://127.0.0.1:${port}\r\n`), 12))).toBe(101);
    expect(await ask(upgrade(LIVE_PATH, "origin: http://evil.example\r\n"))).toBe("");
    expect(await ask(upgrade(`/${LIVE_PATH}`))).toBe("");
  });

  test("a connection opened ahead of its request is closed without a word, half a request is told that it took too long", async () => {
    const other = createServer({ connectionsCheckingInterval: 10 });
    await new Promise<void>((resolve) => other.listen(0, "127.0.0.1", resolve));
    const at = (other.address() as AddressInfo).port;
    guardBorder(other, gateFor({ host: "127.0.0.1", port: at }), {
      request: (_request, response) => response.end("here"),
      upgrade: () => false,
      failed: () => {},
    });
    expect(other.keepAliveTimeout).toBeGreaterThan(60_000);
    other.headersTimeout = 30;
    const heard = async (bytes: string) => {
      const socket = connect(at, "127.0.0.1");
      let text = "";
      socket.on("data", (piece) => {
        text += piece.toString("latin1");
      });
      if (bytes !== "") socket.write(bytes);
      await once(socket, "close");
      return text;
    };
    expect(await heard("")).toBe("");
    expect(status(await heard("GET / HT"))).toBe(408);
    expect(status(await heard("no request\r\n\r\n"))).toBe(400);
    expect(status(await heard(`GET / HTTP/1.1\r\nhost: x\r\nx: ${"y".repeat(20_000)}\r\n\r\n`))).toBe(431);
    other.closeAllConnections();
    await new Promise((resolve) => other.close(resolve));
  });

  test("what a proxy would say of who asks is not believed", async () => {
    let seen: unknown;
    const other = createServer();
    await new Promise<void>((resolve) => other.listen(0, "127.0.0.1", resolve));
    const at = (other.address() as AddressInfo).port;
    guardBorder(other, gateFor({ host: "127.0.0.1", port: at }), {
      request: (request, response) => {
        seen = Object.keys(request.headers).filter((n) => n.includes("forwarded"));
        response.end();
      },
      upgrade: () => false,
      failed: () => {},
    });
    await fetch(`http://127.0.0.1:${at}/`, { headers: { "x-forwarded-proto": "https", forwarded: "host=evil" } });
    expect(seen).toEqual([]);
    other.closeAllConnections();
    await new Promise((resolve) => other.close(resolve));
  });
});

describe("a body", () => {
  test("is counted while it arrives, whatever length it says or does not say", async () => {
    let sent = 0;
    const endless = new ReadableStream<Uint8Array>({
      pull(controller) {
        sent += 1024;
        controller.enqueue(new Uint8Array(1024).fill(97));
      },
    });
    const request = new Request("http://here/", { method: "POST", body: endless, duplex: "half" } as RequestInit);
    expect(await bodyText(request, 10_000)).toBeNull();
    expect(sent).toBeLessThan(20_000);
    expect(await bodyText(new Request("http://here/", { method: "POST", body: "scène" }), 10_000)).toBe("scène");
    expect(await bodyText(new Request("http://here/", { method: "POST" }), 10)).toBe("");
  });
});

describe("live sockets", () => {
  test("from one address are sixty-four at the most, and there is room again when one closes", async () => {
    const open = async () => {
      const socket = new WebSocket(`ws://127.0.0.1:${port}${LIVE_PATH}`);
      const opened = await new Promise<boolean>((resolve) => {
        socket.once("open", () => resolve(true));
        socket.once("error", () => resolve(false));
      });
      return opened ? socket : null;
    };
    const sockets = await Promise.all(Array.from({ length: 64 }, open));
    expect(sockets.every((s) => s !== null)).toBe(true);
    expect(await open()).toBeNull();
    sockets[0]!.close();
    await once(sockets[0]!, "close");
    await expect.poll(async () => (await open()) !== null).toBe(true);
    for (const s of sockets) s!.terminate();
  });
});

describe("20,000 inputs of any kind", () => {
  /** Numbers from a seed (xorshift, 32 bits): the same inputs at every run. */
  function numbers(seed: number): (below: number) => number {
    let x = seed;
    return (below) => {
      x ^= x << 13;
      x ^= x >>> 17;
      x ^= x << 5;
      return (x >>> 0) % below;
    };
  }
  const METHODS = [
    "GET",
    "HEAD",
    "POST",
    "PUT",
    "DELETE",
    "OPTIONS",
    "CONNECT",
    "TRACE",
    "PATCH",
    "PRI",
    "get",
    "\x00",
  ];
  const TARGETS = [
    "/",
    "//",
    "//[",
    "/live",
    "*",
    "/%",
    "/%00",
    "http://[::",
    "/a?b#c",
    "\\\\",
    "/..//..",
    "/\u{7f}",
    "",
  ];
  const HEADERS = [
    "content-length: -1",
    "content-length: 5\r\ncontent-length: 6",
    "transfer-encoding: chunked",
    "transfer-encoding: chunked, identity",
    "expect: 100-continue",
    "expect: the-unexpected",
    "upgrade: websocket\r\nconnection: upgrade",
    "upgrade: h2c\r\nconnection: upgrade",
    "sec-websocket-key: x",
    "sec-websocket-version: 99",
    "sec-websocket-key: AAAAAAAAAAAAAAAAAAAAAA==\r\nsec-websocket-version: 13",
    "sec-websocket-extensions: permessage-deflate; client_max_window_bits=99",
    "origin: null",
    "cookie: a=%; b=\x01",
    "range: bytes=-0,9-1",
    "accept-encoding: \xff",
    `x: ${"y".repeat(9000)}`,
    ": no name",
    "host",
  ];
  const BODIES = [
    "",
    "5\r\nabc\r\n",
    "ffffffffffffffff\r\n",
    "0\r\n\r\n",
    "\x81\xfe\xff\xff",
    "\x88\x80....",
    "{",
    "\0\0\0",
  ];

  test("end nothing, and the server answers as before", async () => {
    const any = numbers(20_261_128);
    const pick = <T>(list: readonly T[]) => list[any(list.length)]!;
    const input = () => {
      const lines = [`${pick(METHODS)} ${pick(TARGETS)} HTTP/1.${pick(["1", "0", "9", ""])}`];
      if (any(4) > 0) lines.push(`host: 127.0.0.1:${port}`);
      for (let n = any(4); n > 0; n--) lines.push(pick(HEADERS));
      const bytes = Buffer.from(`${lines.join(pick(["\r\n", "\r\n", "\n"]))}\r\n\r\n${pick(BODIES)}`, "latin1");
      // Every other one is cut or has some bytes of it changed.
      if (any(2) === 0) for (let n = any(6); n > 0; n--) bytes[any(bytes.length)] = any(256);
      return any(4) === 0 ? bytes.subarray(0, any(bytes.length)) : bytes;
    };
    // Sent as fast as connections close again; what is left open is cut after its first answer.
    for (let n = 0; n < 20_000; n += 100) {
      const asked = Array.from({ length: 100 }, () => ask(input(), 1));
      await Promise.race([Promise.all(asked), new Promise((resolve) => setTimeout(resolve, 50))]);
      server.closeAllConnections();
    }
    await alive();
    expect(faults).toEqual([]);
  }, 120_000);
});
