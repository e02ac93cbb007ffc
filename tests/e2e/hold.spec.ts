/** Edits on hold: the show is edited, and what runs is as it was until they are put in. */
import type { Page } from "@playwright/test";
import { type Application, control, expect, expectLight, openPlace, type StandIn, test } from "./application.ts";
import { expectNoFaults } from "./axe.ts";

/** The Map here, and Run in a window of its own. */
async function mapAndRun(page: Page, velvet: Application): Promise<Page> {
  await openPlace(page, velvet, "map");
  const run = await page.context().newPage();
  await openPlace(run, velvet, "run");
  return run;
}

const isOn = async (desk: StandIn, playback: number) => (await desk.playback(1, playback)).on;

test("what was unmapped plays on in Run until the edits are put in; another window sees both", async ({
  page,
  velvet,
  desk,
}) => {
  const run = await mapAndRun(page, velvet);
  await page.keyboard.press("e");
  const chip = page.getByRole("banner").getByRole("button", { name: /held|on hold/ });
  await expect(chip).toHaveText("Edits are held");
  await control(page, "pad-2").click();
  await expect.poll(() => isOn(desk, 2)).toBe(true);
  await page.getByRole("button", { name: /^Unmap/ }).click();
  await expect(chip).toHaveText("1 edit on hold");
  await expect(control(page, "pad-2")).toHaveAttribute("data-state", /elsewhere|free/);
  // Run shows what runs, and plays it.
  await expect(run.getByText("1 edit on hold")).toBeVisible();
  await expectLight(run, "pad-2", "full");
  await control(run, "pad-2").click();
  await expect.poll(() => isOn(desk, 2)).toBe(false);
  // So does a page that comes to Run now.
  await run.reload();
  await run.locator("html[data-ready]").waitFor();
  await control(run, "pad-2").click();
  await expect.poll(() => isOn(desk, 2)).toBe(true);

  await chip.click();
  const asked = page.getByRole("dialog", { name: "Edits on hold" });
  await expect(asked).toContainText("The show runs as it was at");
  await expectNoFaults(page);
  await asked.getByRole("button", { name: "Put in now" }).click();
  await expect(chip).toHaveCount(0);
  await expect(run.getByText("on hold")).toHaveCount(0);
  await control(run, "pad-2").click();
  await control(run, "pad-1").click(); // what is pressed after it arrives after it
  await expect.poll(() => isOn(desk, 1)).toBe(true);
  expect(await isOn(desk, 2)).toBe(true);
  await page.bringToFront();
  await page.keyboard.press("e"); // once more: it asks nothing by itself
  await expect(chip).toHaveText("Edits are held");
  await expect(asked).toHaveCount(0);
});

test("thrown away, by keys alone: the show is what ran, and Undo brings the edits back", async ({
  page,
  velvet,
  desk,
}) => {
  const run = await mapAndRun(page, velvet);
  const lost: string[] = [];
  run.on("websocket", () => lost.push("Run had to connect again"));
  await page.bringToFront();
  await control(page, "pad-3").click();
  await expect.poll(() => isOn(desk, 3)).toBe(true);
  await page.keyboard.press("e");
  await expect(page.getByRole("button", { name: "Edits are held" })).toBeVisible();
  await page.keyboard.press("Delete");
  await expect(page.getByRole("button", { name: "1 edit on hold" })).toBeVisible();
  await page.keyboard.press("e");
  const asked = page.getByRole("dialog", { name: "Edits on hold" });
  await expect(asked.getByRole("button", { name: "Put in now" })).toBeFocused();
  await page.keyboard.press("Tab");
  await page.keyboard.press("Tab");
  await expect(asked.getByRole("button", { name: "Throw them away" })).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(asked).toHaveCount(0);
  await expect(control(page, "pad-3")).toHaveAttribute("data-state", "on");
  await control(page, "pad-3").click();
  await expect.poll(() => isOn(desk, 3)).toBe(false);
  await page.keyboard.press("Control+z");
  await expect(control(page, "pad-3")).toHaveAttribute("data-state", /elsewhere|free/);
  // Run has followed all the while, on the connection that it had.
  await expect(control(run, "pad-3")).toHaveAttribute("data-state", /elsewhere|free/);
  expect(lost).toEqual([]);
});

test("what the show runs on is not changed meanwhile, and it says why", async ({ page, velvet }) => {
  expect((await velvet.post("/api/hold", { do: "hold" })).status).toBe(200);
  await openPlace(page, velvet, "map");
  await expect(page.getByRole("button", { name: "Edits are held" })).toBeVisible();
  const refused = await velvet.post("/api/edit", { kind: "add-layer", layer: { id: "third", name: "Third" } });
  expect(refused.status).toBe(422);
  expect(((await refused.json()) as { problems: string[] }).problems[0]).toMatch(
    /^Edits are on hold, and this changes a layer, which the show runs on\. Put the edits in first/,
  );
  const another = await velvet.post("/api/shows", { do: "new", name: "Another" });
  expect([another.status, (await velvet.shows()).length]).toEqual([422, 1]);
});

test("when it is quiet they go in by themselves", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await page.keyboard.press("e");
  await expect(page.getByRole("button", { name: "Edits are held" })).toBeVisible();
  await control(page, "pad-21").hover();
  await page.mouse.down(); // a flash is held
  await expect.poll(async () => (await desk.playback(3, 6)).flash).toBe(true);
  expect((await velvet.post("/api/edit", { kind: "rename-show", name: "Second night" })).status).toBe(200);
  expect((await velvet.post("/api/hold", { do: "put-in-when-quiet" })).status).toBe(200);
  const chip = page.getByRole("button", { name: "1 edit on hold" });
  await expect(chip).toBeVisible();
  await page.mouse.up();
  await expect(chip).toHaveCount(0);
});

test("the server is started anew: they are still on hold, and what ran runs", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await control(page, "pad-2").click();
  await page.keyboard.press("e");
  await expect(page.getByRole("button", { name: "Edits are held" })).toBeVisible();
  await page.keyboard.press("Delete");
  await expect(page.getByRole("button", { name: "1 edit on hold" })).toBeVisible();
  await velvet.stop();
  await velvet.start();
  await openPlace(page, velvet, "run");
  await expect(page.getByText("1 edit on hold")).toBeVisible();
  const before = await isOn(desk, 2);
  await control(page, "pad-2").click();
  await expect.poll(() => isOn(desk, 2)).toBe(!before);
});
