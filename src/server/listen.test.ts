/** The socket that the server listens on, with a certificate that is for these tests alone. */
import { copyFileSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { request as plain } from "node:http";
import { request } from "node:https";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, test } from "vitest";
import { WebSocket, WebSocketServer } from "ws";
import { CannotListen, listen, type MadeServer, makeServer } from "./listen.ts";

const certificate = new URL("../../tests/rig/certificate/", import.meta.url).pathname;
let folder: string;
let made: MadeServer | null = null;
const files = () => ({ cert: join(folder, "cert.pem"), key: join(folder, "key.pem") });

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "velvet-tls-"));
  for (const name of ["cert.pem", "key.pem"]) copyFileSync(join(certificate, name), join(folder, name));
});
afterEach(async () => {
  made?.server.closeAllConnections();
  await new Promise((resolve) => (made ? made.server.close(resolve) : resolve(null)));
  made = null;
  rmSync(folder, { recursive: true });
});

const open = async (): Promise<number> => {
  made = makeServer(files(), 20);
  made.server.on("request", (_, response) => response.end("hello"));
  await listen(made.server, "127.0.0.1", 0);
  return (made.server.address() as AddressInfo).port;
};
const get = (port: number, more: object = {}) =>
  new Promise<string>((resolve, reject) => {
    const asked = request({ host: "127.0.0.1", port, rejectUnauthorized: false, ...more }, (answer) => {
      answer.on("data", (text) => resolve(String(text)));
    });
    asked.on("error", reject).end();
  });

describe("with a certificate", () => {
  test("pages and live sockets are encrypted, and plain HTTP on the port ends nothing", async () => {
    const port = await open();
    const refused = new Promise((resolve) => {
      plain({ host: "127.0.0.1", port }, () => resolve("answered"))
        .on("error", () => resolve("refused"))
        .end();
    });
    expect(await refused).toBe("refused");
    expect(await get(port)).toBe("hello");
    await expect(get(port, { maxVersion: "TLSv1.1", minVersion: "TLSv1" })).rejects.toThrow();
    const sockets = new WebSocketServer({ server: made!.server });
    const socket = new WebSocket(`wss://127.0.0.1:${port}/live`, { rejectUnauthorized: false });
    await new Promise((resolve) => socket.once("open", resolve));
    socket.terminate();
    sockets.close();
  });
  test("one that is renewed is taken without a restart, and half of one is not", async () => {
    const port = await open();
    const told: (string | null)[] = [];
    const wake: (() => void)[] = [];
    const unwatch = made!.watch((error) => {
      told.push(error ? error.message : null);
      wake.shift()?.();
    });
    const looked = () => new Promise<void>((resolve) => wake.push(resolve));
    const half = looked();
    writeFileSync(files().cert, "half of it");
    await half;
    expect([told.at(-1) === null, await get(port)]).toEqual([false, "hello"]);
    const whole = looked();
    copyFileSync(join(certificate, "cert.pem"), files().cert);
    await whole;
    expect([told.at(-1), await get(port)]).toEqual([null, "hello"]);
    unwatch();
  });
  test.each([
    ["no such file", "gone.pem"],
    ["a key in the place of a certificate", "key.pem"],
  ])("%s is refused with a sentence", (_, name) => {
    expect(() => makeServer({ ...files(), cert: join(folder, name) })).toThrow(CannotListen);
  });
});

test("a port in use is told, with another one to take", async () => {
  const port = await open();
  const other = makeServer(null);
  await expect(listen(other.server, "127.0.0.1", port)).rejects.toThrow(`--port ${port + 1}`);
});
