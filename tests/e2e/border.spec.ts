/** What comes from outside and is not as it should be: refused, counted, shown, and nothing else happens. */
import { spawn } from "node:child_process";
import { createSocket } from "node:dgram";
import { once } from "node:events";
import { join } from "node:path";
import { WebSocket } from "ws";
import { expect, expectLight, openPlace, test, trafficOf } from "./application.ts";

test("MIDI garbage and malformed OSC are shown in the list, and the show goes on", async ({ page, velvet, desk }) => {
  await velvet.post("/api/edit", {
    kind: "set-surface-ports",
    id: "deck",
    in: { kind: "midi-udp", host: "127.0.0.1", port: Number(new URL(velvet.url).port) + 18 },
    out: { kind: "screen" },
  });
  await openPlace(page, velvet, "map");
  await expectLight(page, "pad-1", "dim");
  await page.keyboard.press("`");
  const socket = createSocket("udp4");
  const send = (...bytes: number[]) =>
    new Promise((done) =>
      socket.send(Uint8Array.from(bytes), Number(new URL(velvet.url).port) + 18, "127.0.0.1", done),
    );
  await send(0x3c, 0x40);
  await send(0xf4);
  await send(0x90, 36, 127, 0x80, 36, 64);
  await trafficOf(page, "ignored: one byte that is not a valid message");
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
  socket.close();
});

test("edits that are none, too long, or from another page are refused whole", async ({ velvet }) => {
  const before = JSON.stringify(await velvet.show());
  expect((await velvet.post("/api/edit", "{")).status).toBe(422);
  expect((await velvet.post("/api/edit", { kind: "erase" })).status).toBe(422);
  expect((await velvet.post("/api/edit", { kind: "rename-show", name: "x".repeat(9 * 1024 * 1024) })).status).toBe(413);
  const foreign = { origin: "http://elsewhere.example" };
  expect((await velvet.post("/api/edit", { kind: "rename-show", name: "Mine" }, foreign)).status).toBe(403);
  const document = await velvet.put('{"format":"velvet-hinge/show","version":1}');
  expect(document.status).toBe(422);
  expect(((await document.json()) as { problems: string[] }).problems).toContain("Name: expected a text.");
  expect(JSON.stringify(await velvet.show())).toBe(before);
});

test("a live socket of another page is not opened, and one that says nonsense is answered and listed", async ({
  page,
  velvet,
}) => {
  const address = `${velvet.url.replace("http", "ws")}/live`;
  const foreign = new WebSocket(address, { origin: "http://elsewhere.example" });
  const [error] = (await once(foreign, "error")) as [Error];
  expect(error.message).toMatch(/socket hang up|ECONNRESET/);
  const own = new WebSocket(address, { origin: velvet.url });
  const messages: { kind: string; reason?: string }[] = [];
  own.on("message", (data) => messages.push(JSON.parse(String(data)) as { kind: string }));
  await once(own, "open");
  own.send('{"kind":"erase"}');
  await expect.poll(() => messages.find((m) => m.kind === "refused")?.reason).toContain("This “kind” is not known.");
  await openPlace(page, velvet, "map");
  await page.keyboard.press("`");
  const row = (await trafficOf(page, "a browser")).first();
  await expect(row).toContainText('{"kind":"erase"}');
  await expect(row).toContainText("refused: This “kind” is not known.");
  await expect(page.getByRole("status").filter({ hasText: "of browsers refused" })).toBeVisible();
  own.close();
});

test("pages carry a strict policy, and nothing is fetched from anywhere else", async ({ page, velvet }) => {
  const elsewhere: string[] = [];
  page.on("request", (request) => {
    const { host } = new URL(request.url());
    if (host !== new URL(velvet.url).host) elsewhere.push(request.url());
  });
  for (const place of ["connect", "map", "run"] as const) {
    const response = await page.goto(`${velvet.url}/${place}`);
    const policy = response!.headers()["content-security-policy"]!;
    expect(policy).toContain("default-src 'self'");
    expect(policy).not.toContain("unsafe-eval");
    expect(policy).not.toMatch(/script-src[^;]*unsafe-inline/);
    await expect(page.locator("html[data-ready]")).toBeAttached();
    await page.evaluate(() => document.fonts.ready);
  }
  expect(elsewhere).toEqual([]);
});

test("a port in use gets a sentence and exit code 1", async ({ velvet }) => {
  const { port } = new URL(velvet.url);
  const second = spawn(process.execPath, [join(import.meta.dirname, "..", "..", "dist", "main.mjs"), "--port", port]);
  let text = "";
  second.stderr.on("data", (piece: Buffer) => {
    text += String(piece);
  });
  const [code] = (await once(second, "exit")) as [number];
  expect(code).toBe(1);
  expect(text).toBe(
    `Port ${port} on 127.0.0.1 is in use. Stop what uses it, or choose another: --port ${Number(port) + 1}\n`,
  );
});

test("the whole demo stops cleanly on Ctrl-C and leaves nothing behind", async ({ velvet }) => {
  await velvet.stop();
  await Promise.all(velvet.standIns.map((s) => s.kill()));
  await velvet.start(["--demo"]);
  const web = new URL(velvet.url);
  expect((await fetch(`${velvet.url}/map`)).status).toBe(200);
  expect(await velvet.stop()).toBe(0);
  await expect(fetch(velvet.url)).rejects.toThrow();
  // The ports are free again: both can be taken.
  const udp = createSocket("udp4");
  udp.bind(Number(web.port) + 1, "127.0.0.1");
  await once(udp, "listening");
  await new Promise<void>((done) => udp.close(done));
  await Promise.all(velvet.standIns.map((s) => s.start()));
  await velvet.start();
});
