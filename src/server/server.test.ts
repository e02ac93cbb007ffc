import type { IncomingMessage } from "node:http";
import { resolve } from "node:path";
import { describe, expect, test } from "vitest";
import { gateFor, hostAllowed, originAllowed } from "./guard-requests.ts";
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
        restore: null,
        logLevel: "info",
        faults: false,
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
  test("the demo runs without its stand-ins where asked", () => {
    expect(readOptions(["--demo", "--no-standins"], {})).toMatchObject({ options: { demo: true, standIns: false } });
  });
  test.each([
    [["--port", "0"], {}, "The port “0” is not a number from 1 to 65535."],
    [["--port", "70000"], {}, "The port “70000” is not a number from 1 to 65535."],
    [[], { VELVET_PORT: "http" }, "The port “http” is not a number from 1 to 65535."],
    [[], { VELVET_LIGHTS_PORT: "x" }, "VELVET_LIGHTS_PORT “x” is not a number from 1 to 65534."],
    [["--log-level", "loud"], {}, "The log level “loud” is not one of these: error, warn, info, debug."],
    [["--colour"], {}, "Known flags: --host, --port, --data, --demo, --no-standins, --restore, --log-level."],
    [["show.json"], {}, "Known flags"],
  ])("%o with %o is refused with a sentence", (argv, env, sentence) => {
    const read = readOptions(argv, env);
    expect(read.ok ? "" : read.sentence).toContain(sentence);
  });
});

describe("who may ask", () => {
  const gate = gateFor("127.0.0.1", 4780);
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
  test("an address of its own is the only name it answers to", () => {
    expect([...gateFor("10.0.7.5", 80).hosts]).toEqual(["10.0.7.5:80"]);
  });
});
