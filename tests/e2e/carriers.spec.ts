/** Desks that are reached by an MQTT broker and by HTTP: described in the editor, mapped, driven and followed. */
import { once } from "node:events";
import { createServer } from "node:http";
import type { Page } from "@playwright/test";
import { connect, type MqttClient } from "mqtt";
import type { Login } from "../../src/core/format/show.ts";
import { Broker } from "../rig/broker.ts";
import { type Application, control, expect, expectLight, more, openKinds, openPlace, test } from "./application.ts";

const PORTS = { broker: 21_520, http: 21_521 };

/** A desk with one lamp: what switches it, and how it says that it is on. */
function lampDesk(on: string, off: string, heard: string) {
  return {
    format: "velvet-hinge/desk-profile",
    version: 1,
    id: "lamp-house",
    name: "Lamp house",
    kind: "lighting",
    about: "One lamp at the end of the quay.",
    wire: { kind: "line-tcp", port: 9999, checkAtDesk: [] },
    parameters: [],
    states: [{ id: "lamp", name: "Lamp", parameters: [], value: { kind: "switch" }, heard: { line: heard } }],
    functions: [
      {
        id: "lamp",
        name: "Lamp on or off",
        words: [],
        parameters: [],
        acts: "toggle",
        state: "lamp",
        send: [{ line: on }],
        off: [{ line: off }],
      },
    ],
    query: [],
  };
}

const editor = (page: Page) => page.getByRole("region", { name: /^Profile of / });

async function describe(page: Page, velvet: Application, profile: unknown, carrier: string): Promise<void> {
  expect((await velvet.post("/api/edit", { kind: "put-desk-profile", profile })).status).toBe(200);
  await openPlace(page, velvet, "connect");
  await (await openKinds(page)).getByRole("button", { name: /Lamp house/ }).click();
  await editor(page).getByRole("combobox", { name: "What carries the lines" }).click();
  await page.getByRole("option", { name: carrier, exact: true }).click();
}

async function addAndMap(page: Page, port: number, carrier: string): Promise<void> {
  await editor(page)
    .getByRole("button", { name: /^Close/ })
    .click();
  await page.getByRole("button", { name: "Add a desk" }).click();
  const dialog = page.getByRole("dialog", { name: "Add a desk" });
  await dialog.getByRole("combobox", { name: "What it is" }).click();
  await page.getByRole("option", { name: "Lamp house", exact: true }).click();
  await expect(dialog.getByRole("combobox", { name: "Carried by" })).toContainText(carrier);
  await dialog.getByLabel("Port", { exact: true }).fill(String(port));
  await dialog.getByRole("button", { name: "Add it" }).click();
  await expect(page.getByRole("article", { name: "Lamp house" })).toContainText(`${carrier} to 127.0.0.1:${port}`);
  await page.getByRole("link", { name: /Map/ }).click();
  await control(page, "pad-15").click();
  await page.getByRole("combobox", { name: "What should it do?" }).fill("lamp on or off");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "What it does" })).toContainText("Lamp house · lamp on or off");
}

/** A broker, and the lamp as it is known there, for as long as `run` takes. */
async function withBroker(login: Login | undefined, run: (broker: Broker, lamp: MqttClient) => Promise<void>) {
  const broker = new Broker(PORTS.broker, login);
  await broker.start();
  const who = login ? { username: login.user, password: login.password } : {};
  const lamp = connect({ protocol: "mqtt", host: "127.0.0.1", port: PORTS.broker, ...who });
  try {
    await run(broker, lamp);
  } finally {
    await lamp.endAsync(true);
    await broker.stop();
    broker.clean();
  }
}

test("a desk by an MQTT broker, with retained state and a last will", async ({ page, velvet }) => {
  await withBroker(undefined, async (broker, lamp) => {
    const heard: string[] = [];
    lamp.on("message", (topic, payload) => heard.push(`${topic} ${payload}`));
    await lamp.subscribeAsync(["quay/lamp/set", "bridge/there"]);
    await lamp.publishAsync("quay/lamp", "1", { retain: true });

    const profile = lampDesk("quay/lamp/set 1", "quay/lamp/set 0", "quay/lamp {value}");
    await describe(page, velvet, profile, "lines by an MQTT broker");
    await editor(page).getByRole("combobox", { name: "Version of MQTT" }).click();
    await page.getByRole("option", { name: "5", exact: true }).click();
    const will = editor(page).getByLabel("What the broker says when we are gone");
    await will.fill("bridge/there 0");
    await will.press("Enter");
    await expect(editor(page)).toContainText("complete: what you see is what runs");
    await addAndMap(page, PORTS.broker, "lines by an MQTT broker");
    await expectLight(page, "pad-15", "full"); // it was on before we came: the broker kept it
    await control(page, "pad-15").click();
    await expect.poll(() => heard).toEqual(["quay/lamp/set 0"]);
    await lamp.publishAsync("quay/lamp", "0", { retain: true });
    await expectLight(page, "pad-15", "dim");

    // The broker goes and comes again: the desk is found again by itself.
    await page.getByRole("link", { name: /Connect/ }).click();
    await broker.stop();
    const card = page.getByRole("article", { name: "Lamp house" });
    await expect(card).toHaveAttribute("data-health", "refusing");
    await broker.start();
    // Its memory is gone with it; whoever is there again says so again.
    await expect(async () => {
      await lamp.publishAsync("quay/lamp", "1");
      await expect(card).toHaveAttribute("data-health", "answering", { timeout: 1000 });
    }).toPass();
    await page.getByRole("link", { name: /Map/ }).click();
    await expectLight(page, "pad-15", "full");
  });
});

test("a broker that asks who we are: told why not, then signed in from the card", async ({ page, velvet }) => {
  const login = { user: "bridge", password: "moon over the quay" };
  await withBroker(login, async (_broker, lamp) => {
    await lamp.publishAsync("quay/lamp", "1", { retain: true });
    const profile = lampDesk("quay/lamp/set 1", "quay/lamp/set 0", "quay/lamp {value}");
    await describe(page, velvet, profile, "lines by an MQTT broker");
    await addAndMap(page, PORTS.broker, "lines by an MQTT broker");
    await expectLight(page, "pad-15", "dim");
    await page.getByRole("link", { name: /Connect/ }).click();
    const card = page.getByRole("article", { name: "Lamp house" });
    await expect(card).toContainText("No connection: it does not let us in with this user and password");
    await card.getByRole("button", { name: "Change address" }).click();
    const dialog = page.getByRole("dialog", { name: "Address of Lamp house" });
    await dialog.getByLabel("User").fill(login.user);
    await dialog.getByLabel("Password").fill(login.password);
    await dialog.getByRole("button", { name: "Use this address" }).click();
    await expect(card).toHaveAttribute("data-health", "answering");
    await expect(card).not.toContainText("No connection");
    // The password is known, and nobody is told it.
    await more(page, "Lamp house", "Change address");
    await expect(dialog.getByLabel("Password")).toHaveValue("");
    await expect(dialog.getByLabel("Password")).toHaveAttribute("placeholder", /kept/);
    await dialog.getByRole("button", { name: "Leave it" }).click();
    for (const path of ["/api/show", "/connect", "/health"])
      expect(await (await page.request.get(velvet.url + path)).text()).not.toContain(login.password);
    await page.getByRole("link", { name: /Map/ }).click();
    await expectLight(page, "pad-15", "full");
  });
});

test("a desk by HTTP requests, whose answers are what it reports", async ({ page, velvet }) => {
  const asked: string[] = [];
  let isOn = false;
  const lamp = createServer((request, response) => {
    asked.push(`${request.method} ${request.url} ${request.headers["x-key"]}`);
    if (request.method === "PUT") isOn = request.url === "/lamp/1";
    response.end(JSON.stringify({ lamp: isOn ? 1 : 0 }));
  });
  lamp.listen(PORTS.http, "127.0.0.1");
  await once(lamp, "listening");
  try {
    const profile = lampDesk("PUT /lamp/1", "PUT /lamp/0", '200 {{"lamp":{value}}}');
    await describe(page, velvet, profile, "lines as HTTP requests");
    const headers = editor(page).getByLabel("Header fields, separated by semicolons");
    await headers.fill("X-Key: lantern");
    await headers.press("Enter");
    await expect(editor(page)).toContainText("complete: what you see is what runs");
    await addAndMap(page, PORTS.http, "lines as HTTP requests");
    await control(page, "pad-15").click();
    await expect.poll(() => asked).toEqual(["PUT /lamp/1 lantern"]);
    await expectLight(page, "pad-15", "full"); // because the answer said so
    await control(page, "pad-15").click();
    await expect.poll(() => asked.at(-1)).toBe("PUT /lamp/0 lantern");
    await expectLight(page, "pad-15", "dim");
  } finally {
    lamp.closeAllConnections();
    lamp.close();
  }
});
