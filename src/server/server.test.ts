import type { IncomingMessage } from "node:http";
import type { NetworkInterfaceInfo } from "node:os";
import { resolve } from "node:path";
import { beforeEach, describe, expect, test } from "vitest";
import {
  type GateSettings,
  gateFor,
  hostAllowed,
  isFromHere,
  originAllowed,
  type System,
  waysIn,
} from "./guard-requests.ts";
import { readOptions } from "./options.ts";
import { withoutRestore } from "./parent.mjs";

describe("flags and variables", () => {
  test("without any, the application stays on this computer", () => {
    expect(readOptions([], {})).toEqual({
      ok: true,
      options: {
        host: "127.0.0.1",
        port: 4780,
        dataFolder: resolve("data"),
        demo: false,
        standIns: false,
        standInsAgain: true,
        restore: null,
        logLevel: "info",
        faults: false,
        tls: null,
        names: [],
        passcode: null,
        standInPorts: { lights: 9100, vision: 9110, sound: 9120, bell: 9130 },
      },
    });
  });
  test("a flag goes before a variable", () => {
    const read = readOptions(["--port", "5000", "--demo"], {
      VELVET_PORT: "6000",
      VELVET_HOST: "localhost",
      VELVET_DATA: "/tmp/x",
    });
    expect(read).toMatchObject({
      options: { port: 5000, host: "localhost", dataFolder: "/tmp/x", demo: true, standIns: true },
    });
  });
  test("a backup is named, or it is the newest", () => {
    expect(readOptions(["--restore"], {})).toMatchObject({ options: { restore: "" } });
    expect(readOptions(["--restore", "--port", "5000"], {})).toMatchObject({ options: { restore: "", port: 5000 } });
    expect(readOptions(["--restore", "a.sqlite", "--demo"], {})).toMatchObject({ options: { restore: "a.sqlite" } });
  });
  test("a server that is started again does not restore again", () => {
    expect(withoutRestore(["--restore", "a.sqlite", "--demo"])).toEqual(["--demo"]);
    expect(withoutRestore(["--demo", "--restore", "--port", "5000"])).toEqual(["--demo", "--port", "5000"]);
    expect(withoutRestore(["--restore"])).toEqual([]);
    expect(withoutRestore(["--port", "5000"])).toEqual(["--port", "5000"]);
  });
  test("a certificate has its key with it, a passcode comes from the environment alone, names add up", () => {
    expect(readOptions(["--cert", "a.pem"], {})).toMatchObject({ ok: false });
    expect(
      readOptions(["--cert", "/a.pem", "--key", "/k.pem", "--name", "a.example", "--name", "b.example"], {
        VELVET_PASSCODE: "three good words",
      }),
    ).toMatchObject({
      options: {
        tls: { cert: "/a.pem", key: "/k.pem" },
        names: ["a.example", "b.example"],
        passcode: "three good words",
      },
    });
    expect(readOptions(["--passcode", "x"], {})).toMatchObject({ ok: false });
  });
  test("the demo runs without its stand-ins where asked", () => {
    expect(readOptions(["--demo", "--no-standins"], {})).toMatchObject({ options: { demo: true, standIns: false } });
  });
  test.each([
    [["--port", "0"], {}, "The port “0” is not a number from 1 to 65535."],
    [["--port", "70000"], {}, "The port “70000” is not a number from 1 to 65535."],
    [[], { VELVET_PORT: "http" }, "The port “http” is not a number from 1 to 65535."],
    [[], { VELVET_LIGHTS_PORT: "x" }, "VELVET_LIGHTS_PORT “x” is not a number from 1 to 65534."],
    [["--log-level", "loud"], {}, "The log level “loud” is not one of these: error, warn, info, debug."],
    [
      ["--colour"],
      {},
      "Known flags: --host, --port, --data, --demo, --no-standins, --restore, --log-level, --cert, --key, --name.",
    ],
    [["show.json"], {}, "Known flags"],
  ])("%o with %o is refused with a sentence", (argv, env, sentence) => {
    const read = readOptions(argv, env);
    expect(read.ok ? "" : read.sentence).toContain(sentence);
  });
});

describe("who may ask", () => {
  const gate = gateFor({ host: "127.0.0.1", port: 4780 });
  const request = (method: string, headers: Record<string, string>) =>
    ({ method, headers }) as unknown as IncomingMessage;
  test.each([
    ["127.0.0.1:4780", true],
    ["localhost:4780", true],
    ["[::1]:4780", true],
    ["127.0.0.1:4781", false],
    ["velvet.example:4780", false],
    ["", false],
  ])("a request for “%s”", (host, wanted) => {
    expect(hostAllowed(gate, request("GET", { host }))).toBe(wanted);
  });
  test.each<[string, string, Record<string, string>, boolean, boolean]>([
    ["a page is read from anywhere", "GET", { origin: "http://other.example" }, false, true],
    ["our own page changes something", "POST", { origin: "http://localhost:4780" }, false, true],
    ["another page changes something", "POST", { origin: "http://other.example" }, false, false],
    ["our page, from another port", "PUT", { origin: "http://127.0.0.1:9999" }, false, false],
    ["an unknown origin", "POST", { origin: "null" }, false, false],
    ["a program that is no browser", "POST", {}, false, true],
    ["a live socket from our page", "GET", { origin: "http://127.0.0.1:4780" }, true, true],
    ["a live socket from another page", "GET", { origin: "http://other.example" }, true, false],
    ["a live socket from a program", "GET", {}, true, true],
    ["a live socket of a browser that hides its origin", "GET", { "sec-fetch-site": "cross-site" }, true, false],
    ["https in front of our name", "POST", { origin: "https://127.0.0.1:4780" }, false, false],
  ])("%s", (_name, method, headers, always, wanted) => {
    expect(originAllowed(gate, request(method, headers), always)).toBe(wanted);
  });

  const card = (address: string, family: "IPv4" | "IPv6", internal = false) =>
    ({
      address,
      family,
      internal,
      netmask: "",
      mac: "",
      cidr: null,
      ...(family === "IPv6" ? { scopeid: 2 } : {}),
    }) as NetworkInterfaceInfo;
  let cards: NetworkInterfaceInfo[] = [];
  let nowMs = 0;
  const system: System = {
    cards: () => ({ lo: [card("127.0.0.1", "IPv4", true)], one: cards }),
    hostname: () => "Quay",
    nowMs: () => nowMs,
  };
  beforeEach(() => {
    cards = [card("fe80::1", "IPv6"), card("10.0.7.5", "IPv4"), card("fd00::5", "IPv6")];
    nowMs += 1e6;
  });
  const answersTo = (settings: GateSettings, host: string) =>
    hostAllowed(gateFor(settings, system), request("GET", { host }));

  test.each([
    ["0.0.0.0", "10.0.7.5:4780", true],
    ["0.0.0.0", "[fd00::5]:4780", true],
    ["0.0.0.0", "[fe80::1]:4780", true],
    ["0.0.0.0", "quay:4780", true],
    ["0.0.0.0", "QUAY.local:4780", true],
    ["0.0.0.0", "127.0.0.1:4780", true],
    ["::", "[::1]:4780", true],
    ["0.0.0.0", "0.0.0.0:4780", false],
    ["::", "[::]:4780", false],
    ["0.0.0.0", "10.0.7.6:4780", false],
    ["0.0.0.0", "quay.example:4780", false],
    ["0.0.0.0", "10.0.7.5", false],
    ["10.0.7.5", "10.0.7.5:4780", true],
    ["10.0.7.5", "fd00::5:4780", false],
    ["10.0.7.5", "127.0.0.1:4780", false],
    ["fd00::5", "[fd00::5]:4780", true],
    ["127.0.0.1", "10.0.7.5:4780", false],
  ])("listening on %s, a request for %s: %s", (host, asked, wanted) => {
    expect(answersTo({ host, port: 4780 }, asked)).toBe(wanted);
  });
  test("the usual port need not be said, and of TLS it is another one", () => {
    expect(
      ["127.0.0.1", "127.0.0.1:80", "localhost"].map((h) => answersTo({ host: "127.0.0.1", port: 80 }, h)),
    ).toEqual([true, true, true]);
    const secure = { host: "0.0.0.0", port: 443, isSecure: true };
    expect(answersTo(secure, "10.0.7.5")).toBe(true);
    expect(answersTo({ ...secure, port: 80 }, "10.0.7.5")).toBe(false);
    const origin = (o: string) => originAllowed(gateFor(secure, system), request("POST", { origin: o }), true);
    expect([origin("https://10.0.7.5"), origin("http://10.0.7.5"), origin("https://10.0.7.5:444")]).toEqual([
      true,
      false,
      false,
    ]);
  });
  test("a name that only others know is given by a flag", () => {
    const settings = { host: "0.0.0.0", port: 4780, names: ["Stage.example"] };
    expect(answersTo(settings, "stage.example:4780")).toBe(true);
    expect(waysIn(settings, system)).toEqual([
      "http://stage.example:4780",
      "http://10.0.7.5:4780",
      "http://[fd00::5]:4780",
      "http://quay:4780",
      "http://quay.local:4780",
    ]);
    expect(waysIn({ host: "127.0.0.1", port: 4780 }, system)).toEqual([]);
  });
  test("an address that the computer is given later is answered to, soon", () => {
    const gate2 = gateFor({ host: "0.0.0.0", port: 4780 }, system);
    const asks = () => hostAllowed(gate2, request("GET", { host: "192.168.3.9:4780" }));
    expect(asks()).toBe(false);
    cards = [card("192.168.3.9", "IPv4")];
    nowMs += 6000;
    expect(asks()).toBe(true);
  });
  test.each<[string, Record<string, string>, boolean]>([
    ["127.0.0.1", {}, true],
    ["::1", {}, true],
    ["::ffff:127.0.0.1", {}, true],
    ["10.0.7.9", {}, false],
    ["::ffff:10.0.7.9", {}, false],
    ["127.0.0.1", { "x-forwarded-for": "10.0.7.9" }, false],
    ["127.0.0.1", { forwarded: "for=10.0.7.9" }, false],
    ["127.0.0.1", { via: "1.1 quay" }, false],
  ])("from %s with %o: at this computer %s", (remoteAddress, headers, wanted) => {
    expect(isFromHere({ headers, socket: { remoteAddress } } as unknown as IncomingMessage)).toBe(wanted);
  });
});
