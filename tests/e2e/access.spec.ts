/** People on other devices: let in by a passcode or a code, to as much as their role may, and out again. */
import type { Browser, Page } from "@playwright/test";
import { type Elsewhere, fromElsewhere } from "../rig/elsewhere.ts";
import { control, expect, expectLight, openPlace, test } from "./application.ts";

let elsewhere: Elsewhere;
test.beforeEach(async ({ velvet, page }) => {
  elsewhere = await fromElsewhere(Number(new URL(velvet.url).port));
  await openPlace(page, velvet, "map");
});
test.afterEach(async ({ page, velvet }) => {
  const { sessions } = (await (await fetch(`${velvet.url}/api/access`)).json()) as { sessions: { id: string }[] };
  for (const { id } of sessions) await page.request.delete(`${velvet.url}/api/access/session`, { data: { id } });
  await elsewhere.close();
});

/** The window of another device. */
async function device(browser: Browser): Promise<Page> {
  return (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
}

async function setPasscode(page: Page, role: string, passcode: string): Promise<void> {
  await page.getByRole("button", { name: "Who is let in" }).click();
  await page.getByRole("button", { name: `Passcode to ${role}` }).click();
  await page.getByRole("textbox", { name: `New passcode to ${role}` }).fill(passcode);
  await page.keyboard.press("Enter");
  await expect(page.getByText(`The passcode to ${role} is kept.`)).toBeVisible();
}

async function comeIn(page: Page, passcode: string, name = ""): Promise<void> {
  await page.getByLabel("Passcode").fill(passcode);
  await page.getByLabel("What this device is called").fill(name);
  await page.getByRole("button", { name: "Come in" }).click();
}

test("a tablet comes in to run by its passcode: it plays, cannot edit, and is out at once when it is ended", async ({
  page,
  desk,
  browser,
}) => {
  await setPasscode(page, "run", "water and lanterns");
  const tablet = await device(browser);
  await tablet.goto(`${elsewhere.url}/map`);
  await expect(tablet).toHaveURL(/\/enter\?to=%2Fmap$/);
  await comeIn(tablet, "water and candles");
  await expect(tablet.getByRole("alert").getByText("This is not the passcode.")).toBeVisible();
  await comeIn(tablet, "water and lanterns", "Tablet at the mixer");
  await expect(tablet).toHaveURL(/\/map$/);
  await expect(tablet.locator("html[data-ready]")).toBeAttached();
  await expect(tablet.getByText("here to run")).toBeVisible();

  await expectLight(tablet, "pad-2", "dim");
  await control(tablet, "pad-2").click();
  await expect.poll(async () => (await desk.playback(1, 2)).on).toBe(true);
  const refused = await tablet.evaluate(async () => {
    const body = JSON.stringify({ kind: "rename-show", name: "Taken over" });
    const headers = { "content-type": "application/json" };
    const answer = await fetch("/api/edit", { method: "POST", headers, body });
    return { status: answer.status, ...((await answer.json()) as { problems: string[] }) };
  });
  expect(refused).toMatchObject({ status: 403, problems: [expect.stringContaining("This needs the role “edit”")] });

  const row = page.locator("[data-session]").filter({ hasText: "Tablet at the mixer" });
  await expect(row).toContainText("here now");
  await row.getByRole("button", { name: "End Tablet at the mixer" }).click();
  await expect(tablet).toHaveURL(/\/enter/);
  await expect(row).toHaveCount(0);
  await tablet.goto(`${elsewhere.url}/map`);
  await expect(tablet).toHaveURL(/\/enter/);
});

test("somebody who is here to look sees the show move, and presses of theirs do nothing and say so", async ({
  page,
  desk,
  browser,
}) => {
  await setPasscode(page, "look", "only from the quay");
  const phone = await device(browser);
  await phone.goto(`${elsewhere.url}/run`);
  await comeIn(phone, "only from the quay");
  await expect(phone.locator("html[data-ready]")).toBeAttached();
  await desk.act({ kind: "on", page: 1, playback: 5, value: true });
  await expectLight(phone, "pad-5", "full");
  await control(phone, "pad-2").click();
  await expect(phone.getByText("Not played: you are here to look.")).toBeVisible();
  await desk.act({ kind: "on", page: 1, playback: 6, value: true });
  await expectLight(phone, "pad-6", "full");
  expect((await desk.playback(1, 2)).on).toBe(false);
  await phone.goto(`${elsewhere.url}/map`);
  await phone.getByRole("button", { name: "Leave" }).click();
  await expect(phone).toHaveURL(/\/enter$/);
});

test("what is typed before the page runs is not lost", async ({ velvet, page, browser }) => {
  await setPasscode(page, "look", "only from the quay");
  const slow = await device(browser);
  let go = () => {};
  const scripts = new Promise<void>((resolve) => {
    go = resolve;
  });
  await slow.route("**/*.js", async (route) => {
    await scripts;
    await route.continue();
  });
  await slow.goto(`${elsewhere.url}/enter?to=%2Frun`, { waitUntil: "commit" });
  await slow.getByLabel("Passcode").fill("only from the quay");
  await slow.getByLabel("What this device is called").fill("Slow phone");
  await expect(slow.getByRole("button", { name: "One moment" })).toBeDisabled();
  go();
  await slow.getByRole("button", { name: "Come in" }).click();
  await expect(slow).toHaveURL(/\/run$/);
  const { sessions } = (await (await fetch(`${velvet.url}/api/access`)).json()) as { sessions: { device: string }[] };
  expect(sessions.map((s) => s.device)).toEqual(["Slow phone"]);
});

test("a pairing code lets one device in, once", async ({ velvet, page, browser }) => {
  const made = await page.request.post(`${velvet.url}/api/access/pairing`, { data: { role: "edit" } });
  const { token } = (await made.json()) as { token: string };
  const one = await device(browser);
  await one.goto(`${elsewhere.url}/enter#${token}`);
  await expect(one.getByText("A pairing code lets this device in.")).toBeVisible();
  await one.getByRole("button", { name: "Come in" }).click();
  await expect(one).toHaveURL(/\/map$/);
  const two = await device(browser);
  await two.goto(`${elsewhere.url}/enter#${token}`);
  await two.getByRole("button", { name: "Come in" }).click();
  await expect(two.getByText("This pairing code was used already")).toBeVisible();
  await expect(two.getByLabel("Passcode")).toBeVisible();
});

test("script in the name of a device is shown as text", async ({ page, velvet, browser }) => {
  const made = await page.request.post(`${velvet.url}/api/access/pairing`, { data: { role: "look" } });
  const { token } = (await made.json()) as { token: string };
  const name = '<img src=x onerror="document.title=1">';
  const other = await device(browser);
  await other.goto(`${elsewhere.url}/enter#${token}`);
  await other.getByLabel("What this device is called").fill(name);
  await other.getByRole("button", { name: "Come in" }).click();
  await expect(other).toHaveURL(/\/run$/);
  await page.getByRole("button", { name: "Who is let in" }).click();
  await expect(page.getByText(name)).toBeVisible();
  await expect(page).not.toHaveTitle("1");
});
