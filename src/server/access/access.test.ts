/** Who is let in, by what, and to what. */
import { mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { createServer, type IncomingMessage, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { ROLES, type Role } from "../../core/format/roles.ts";
import { guardBorder, pathOfTarget } from "../border.ts";
import { Storage } from "../database/storage.ts";
import { gateFor } from "../guard-requests.ts";
import type { Log } from "../log.ts";
import { Access, deviceOf } from "./access.ts";
import { admit } from "./admit.ts";
import { ENDPOINTS, needsOf, verdict } from "./endpoints.ts";
import { groupOf, Tries } from "./tries.ts";
import { AT_THIS_COMPUTER, type Who } from "./who.ts";

const pages = new URL("../../pages/", import.meta.url);

/** Every address of the pages, with the methods it answers. */
function addresses(): [path: string, methods: string[]][] {
  const files = readdirSync(pages, { recursive: true, encoding: "utf8" }).filter((f) => /\.(ts|astro)$/.test(f));
  return files.map((file) => {
    const text = readFileSync(new URL(file.replaceAll("[", "%5B").replaceAll("]", "%5D"), pages), "utf8");
    const path = `/${file.replace(/\.(ts|astro)$/, "").replace(/(^|\/)index$/, "")}`;
    const methods = file.endsWith(".astro")
      ? ["GET"]
      : Array.from(text.matchAll(/export const ([A-Z]+):/g), (m) => m[1]!);
    return [path, methods];
  });
}

describe("what each address needs", () => {
  test("stands in the table for every page and endpoint there is, and for nothing else", () => {
    const found = addresses().flatMap(([path, methods]) => methods.map((m) => `${m} ${path}`));
    const listed = Object.entries(ENDPOINTS).flatMap(([path, by]) => Object.keys(by).map((m) => `${m} ${path}`));
    expect(listed.sort()).toEqual([...found, "UPGRADE /live"].sort());
  });
  test("is “edit” where nobody entered it", () => {
    for (const [method, path] of [
      ["GET", "/api/secret"],
      ["POST", "/api/show"],
      ["PUT", "/map"],
      ["GET", "/api/backups/"],
      ["POST", "/api/%65nter"],
      ["POST", "//api/enter"],
      ["GET", "/Enter"],
      ["DELETE", "/"],
    ] as const)
      expect(needsOf(method, path), `${method} ${path}`).toBe("edit");
    expect([needsOf("HEAD", "/health"), needsOf("GET", "/map")]).toEqual(["look", "look"]);
  });
  test("a role may do what it needs and what those before it need", () => {
    const may = [null, ...ROLES].map((has) => (["anyone", ...ROLES] as const).map((needs) => verdict(needs, has)));
    expect(may).toEqual([
      ["let-in", "not-signed-in", "not-signed-in", "not-signed-in"],
      ["let-in", "let-in", "needs-role", "needs-role"],
      ["let-in", "let-in", "let-in", "needs-role"],
      ["let-in", "let-in", "let-in", "let-in"],
    ]);
  });
});

describe("the door, over HTTP", () => {
  let server: Server;
  let url: string;
  let who: Who | null;
  let inside: string[];
  beforeEach(async () => {
    inside = [];
    server = createServer();
    await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
    const { port } = server.address() as AddressInfo;
    url = `http://127.0.0.1:${port}`;
    guardBorder(server, gateFor({ host: "127.0.0.1", port }), {
      request: (request, response) => {
        const path = pathOfTarget(request.url)!;
        if (!admit(path, request, response, who)) return;
        inside.push(`${request.method} ${path}`);
        response.end("inside");
      },
      upgrade: () => false,
      failed: (error) => {
        throw error;
      },
    });
  });
  afterEach(async () => {
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
  });

  test.each<Role | null>([null, ...ROLES])("with the role %s every address answers as the table says", async (role) => {
    who = role && { role, session: "s" };
    for (const [path, by] of Object.entries(ENDPOINTS))
      for (const [method, needs] of Object.entries(by)) {
        if (method === "UPGRADE") continue;
        const target = path.replace("[place]", "map");
        const response = await fetch(url + target, { method, ...(method === "GET" ? {} : { body: "{}" }) });
        const wanted = { "let-in": 200, "not-signed-in": 401, "needs-role": 403 }[verdict(needs, role)];
        const text = await response.text();
        expect([response.status, inside.pop()], `${method} ${path}`).toEqual([
          wanted,
          wanted === 200 ? `${method} ${target}` : undefined,
        ]);
        if (wanted !== 200) expect(JSON.parse(text)).toMatchObject({ ok: false, problems: [expect.any(String)] });
      }
  });
  test("whoever opens a page without having been let in is led to the door, and back to where they wanted", async () => {
    who = null;
    const asked = await fetch(`${url}/run?a=b`, { redirect: "manual", headers: { accept: "text/html,*/*" } });
    expect([asked.status, asked.headers.get("location")]).toEqual([303, "/enter?to=%2Frun"]);
  });
});

describe("tries", () => {
  test("five are free, then each wrong one waits longer, up to a quarter of an hour", () => {
    const tries = new Tries();
    let nowMs = 0;
    const waits = Array.from({ length: 14 }, () => {
      tries.begin("10.0.7.9", nowMs);
      const waitMs = tries.waitMs("10.0.7.9", nowMs);
      nowMs += waitMs;
      return waitMs / 1000;
    });
    expect(waits).toEqual([0, 0, 0, 0, 30, 60, 120, 240, 480, 900, 900, 900, 900, 900]);
  });
  test("another address is not made to wait, until all together were wrong too often", () => {
    const tries = new Tries();
    for (let i = 0; i < 5; i++) tries.begin("10.0.7.9", 0);
    expect([tries.waitMs("10.0.7.9", 1), tries.waitMs("10.0.7.10", 1)]).toEqual([29_999, 0]);
    for (let i = 0; i < 55; i++) tries.begin(`10.0.8.${i}`, 2);
    expect([tries.waitMs("10.0.9.1", 3), tries.waitMs("10.0.9.1", 600_001)]).toEqual([599_997, 0]);
  });
  test("a right one takes back itself alone: who knows one passcode guesses another no faster", () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { minLength: 20, maxLength: 60 }), (rights) => {
        const tries = new Tries();
        let wrong = 0;
        let nowMs = 0;
        for (const right of rights) {
          nowMs += tries.waitMs("a", nowMs);
          tries.begin("a", nowMs);
          if (right) tries.succeeded("a", nowMs);
          else wrong++;
        }
        // The first four wrong ones are free; each later one has waited half a minute or more.
        expect(nowMs).toBeGreaterThanOrEqual(Math.max(0, wrong - 5) * 30_000 * Number(!rights.includes(true)));
        expect(tries.waitMs("a", nowMs)).toBeLessThanOrEqual(900_000);
      }),
    );
  });
  test.each([
    ["10.0.7.9", "10.0.7.9"],
    ["::ffff:10.0.7.9", "10.0.7.9"],
    ["2001:db8:1:2:3:4:5:6", "2001:db8:1:2"],
    ["2001:db8:1:2::9", "2001:db8:1:2"],
    ["2001:0db8::9", "2001:db8:0:0"],
    ["fe80::1%eth0", "fe80:0:0:0"],
    ["::1", "0:0:0:0"],
  ])("%s counts as %s", (address, group) => {
    expect(groupOf(address)).toBe(group);
  });
});

describe("being let in", () => {
  let folder: string;
  let storage: Storage;
  let access: Access;
  let ended: string[];
  let ways: string[];
  let log: string;
  const GOOD = "three good words";

  const opened = async (isSecure = false) => {
    const write: Log["write"] = (_level, what, more) => {
      log += `${what} ${JSON.stringify(more)}\n`;
    };
    return Access.open(storage, {
      log: { write, end: async () => {} } as Log,
      port: 4780,
      isSecure,
      waysIn: () => ways,
      ended: (id) => ended.push(id),
    });
  };
  const asks = (cookie?: string) => ({ headers: cookie === undefined ? {} : { cookie } }) as IncomingMessage;
  const enter = async (passcode: string, address = "10.0.7.9") => {
    const entered = await access.enter(passcode, "Tablet", address);
    return entered.ok ? { role: entered.role, cookie: entered.cookie.split(";")[0]!, whole: entered.cookie } : entered;
  };
  const who = (entered: Awaited<ReturnType<typeof enter>>) =>
    "cookie" in entered ? access.who(asks(`other=1; ${entered.cookie}`), false) : null;

  beforeEach(async () => {
    folder = mkdtempSync(join(tmpdir(), "velvet-access-"));
    storage = await Storage.open(folder, "test");
    ended = [];
    ways = ["http://10.0.7.5:4780"];
    log = "";
    access = await opened();
    expect(await access.setPasscode("edit", GOOD, AT_THIS_COMPUTER)).toBeNull();
    vi.useFakeTimers({ toFake: ["Date"], now: 1_800_000_000_000 });
  });
  afterEach(async () => {
    vi.useRealTimers();
    await storage.close();
    rmSync(folder, { recursive: true });
  });

  test("whoever sits here needs nothing, others a passcode, and the passcode tells the role", async () => {
    expect(access.who(asks(), true)).toEqual(AT_THIS_COMPUTER);
    expect(access.who(asks(), false)).toBeNull();
    await access.setPasscode("run", "another good word", AT_THIS_COMPUTER);
    expect(who(await enter("another good word"))).toMatchObject({ role: "run" });
    expect(who(await enter(GOOD))).toMatchObject({ role: "edit" });
    expect(await enter("three good word")).toMatchObject({
      ok: false,
      problem: { code: "wrong-passcode" },
      status: 401,
    });
    expect(access.who(asks("velvet-hinge-4780=forged"), false)).toBeNull();
  });
  test("the cookie cannot be read by a page, is sent to us alone, and is another one for each port", async () => {
    const entered = await enter(GOOD);
    const flags = "whole" in entered ? entered.whole : "";
    expect(flags).toMatch(/^velvet-hinge-4780=[\w-]{43}; Max-Age=2592000; Path=\/; HttpOnly; SameSite=Strict$/);
    const secure = await (await opened(true)).enter(GOOD, "", "10.0.7.9");
    expect(secure.ok && secure.cookie).toMatch(/^__Host-velvet-hinge-4780=.*; Secure; SameSite=Strict$/);
  });
  test("letters are the same however they were typed, and each role has a passcode of its own", async () => {
    await access.setPasscode("look", "na\u00efve words", AT_THIS_COMPUTER);
    expect(who(await enter("nai\u0308ve words"))).toMatchObject({ role: "look" });
    expect(await access.setPasscode("run", GOOD, AT_THIS_COMPUTER)).toMatchObject({
      code: "passcode-taken",
      role: "edit",
    });
    expect(await access.setPasscode("run", "short", AT_THIS_COMPUTER)).toMatchObject({ code: "passcode-length" });
    expect(await access.setPasscode("edit", null, AT_THIS_COMPUTER)).toMatchObject({ code: "passcode-needed" });
    ways = [];
    expect(await access.setPasscode("edit", null, AT_THIS_COMPUTER)).toBeNull();
  });
  test("one that the disk does not take is told, and the old one holds", async () => {
    await storage.database.query("PRAGMA query_only = ON");
    expect(await access.setPasscode("edit", "other good words", AT_THIS_COMPUTER)).toMatchObject({ code: "not-saved" });
    await storage.database.query("PRAGMA query_only = OFF");
    expect(who(await enter(GOOD))).toMatchObject({ role: "edit" });
  });
  test("wrong ones make the next wait, many at once are no more than many in a row", async () => {
    const many = await Promise.all(Array.from({ length: 12 }, () => enter("a wrong guess")));
    expect(many.filter((m) => "problem" in m && m.problem.code === "wrong-passcode").length).toBeLessThanOrEqual(5);
    expect(await enter(GOOD)).toMatchObject({ problem: { code: "too-many-tries", waitS: 30 }, status: 429 });
    expect(who(await enter(GOOD, "10.0.7.10"))).toMatchObject({ role: "edit" });
    vi.setSystemTime(Date.now() + 30_000);
    expect(who(await enter(GOOD))).toMatchObject({ role: "edit" });
  });
  test("a session outlives the program, is listed, and is over at once when it is ended", async () => {
    const entered = await enter(GOOD);
    await vi.waitFor(async () => expect((await storage.database.query("SELECT * FROM sessions"))[0]).toHaveLength(1));
    access = await opened();
    const session = who(entered)!.session!;
    expect(access.state(AT_THIS_COMPUTER).sessions).toMatchObject([
      { id: session, role: "edit", device: "Tablet", address: "10.0.7.9", isOwn: false },
    ]);
    expect(access.state(who(entered)!).sessions[0]!.isOwn).toBe(true);
    expect([access.endSession(session), who(entered), ended, access.endSession(session)]).toEqual([
      true,
      null,
      [session],
      false,
    ]);
    await vi.waitFor(async () => expect((await storage.database.query("SELECT * FROM sessions"))[0]).toEqual([]));
  });
  test("one that nobody used for thirty days is over", async () => {
    const entered = await enter(GOOD);
    vi.setSystemTime(Date.now() + 29 * 86_400_000);
    expect(who(entered)).not.toBeNull();
    vi.setSystemTime(Date.now() + 31 * 86_400_000);
    expect([who(entered), ended.length]).toEqual([null, 1]);
  });
  test("another passcode puts out whoever came in by the old one, but not who sets it", async () => {
    const [one, two] = [await enter(GOOD), await enter(GOOD)];
    const { token } = access.pair("edit");
    await access.setPasscode("edit", "other good words", who(one)!);
    expect([who(one)?.role, who(two), access.enterPaired(token, "", "10.0.7.9").ok]).toEqual(["edit", null, false]);
    expect(await enter(GOOD)).toMatchObject({ ok: false });
  });
  test("a pairing lets in one device, once, for ten minutes", () => {
    const first = access.pair("look");
    expect(first).toMatchObject({ waysIn: ways, untilMs: Date.now() + 600_000 });
    expect(access.enterPaired(first.token, "Phone", "10.0.7.9")).toMatchObject({ ok: true, role: "look" });
    expect(access.enterPaired(first.token, "Phone", "10.0.7.9")).toMatchObject({
      ok: false,
      problem: { code: "pairing-over" },
    });
    const second = access.pair("run");
    vi.setSystemTime(Date.now() + 600_001);
    expect(access.enterPaired(second.token, "Phone", "10.0.7.9")).toMatchObject({ ok: false });
  });
  test("neither passcodes nor tokens are in the database or in the log, and refused logins are", async () => {
    const entered = await enter(GOOD);
    await enter("a wrong guess");
    const { token } = access.pair("run");
    access.enterPaired(token, "Phone", "10.0.7.9");
    await vi.waitFor(async () => expect((await storage.database.query("SELECT * FROM sessions"))[0]).toHaveLength(2));
    const files = readdirSync(folder)
      .map((f) => readFileSync(join(folder, f), "latin1"))
      .join("");
    for (const secret of [GOOD, "a wrong guess", token, "cookie" in entered ? entered.cookie.split("=")[1]! : ""])
      expect([files.includes(secret), log.includes(secret)]).toEqual([false, false]);
    expect(log).toContain('not-let-in {"address":"10.0.7.9","why":"wrong-passcode"}');
  });
  test.each([
    ["Mozilla/5.0 (Linux; Android 14) Mobile Safari/537.36", "a phone"],
    ["Mozilla/5.0 (Linux; Android 14) Safari/537.36", "a tablet"],
    ["Mozilla/5.0 (iPad; CPU OS 17_0)", "a tablet"],
    ["Mozilla/5.0 (X11; Linux x86_64)", "a computer"],
    ["", "a program"],
  ])("“%s” is %s", (agent, device) => {
    expect(deviceOf(agent)).toBe(device);
  });
});
