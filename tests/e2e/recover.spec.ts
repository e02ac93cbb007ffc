/** Everything that goes wrong in a night, and how it comes back by itself. */
import { control, dragFader, expect, expectLight, more, openPlace, test } from "./application.ts";

test("the engine is killed: it comes back by itself, with page and lights right", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await desk.act({ kind: "page", value: 3 });
  await desk.act({ kind: "on", page: 3, playback: 1, value: true });
  await expectLight(page, "pad-1", "full");
  expect((await velvet.post("/api/break-engine?how=exit")).status).toBe(200);
  // How long it takes is a row of the bench (`engine.restart`): a test on a busy machine cannot tell.
  await expect.poll(() => velvet.output.join("")).toContain("The engine stopped and is started again.");
  await desk.act({ kind: "on", page: 3, playback: 2, value: true });
  await expectLight(page, "pad-2", "full");
  await expectLight(page, "pad-1", "full");
  await expect(page.getByRole("banner")).toContainText("3 Breakwater");
  await control(page, "pad-4").click();
  await expect.poll(async () => (await desk.playback(3, 4)).on).toBe(true);
});

test("the engine is killed while a pad is held: its release still arrives", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await expectLight(page, "pad-21", "dim");
  await control(page, "pad-21").hover();
  await page.mouse.down();
  await expect.poll(async () => (await desk.playback(3, 6)).flash).toBe(true);
  await velvet.post("/api/break-engine?how=exit");
  await expect.poll(() => velvet.output.join("")).toContain("started again");
  await page.mouse.up();
  await expect.poll(async () => (await desk.playback(3, 6)).flash).toBe(false);
});

test("the engine is killed while a desk is silent: the level that was kept for it is still sent on its return", async ({
  page,
  velvet,
  desk,
}) => {
  await openPlace(page, velvet, "map");
  const functions = page.getByRole("region", { name: "What listens" });
  await expect(functions).toContainText("answering");
  const before = (await desk.playback(1, 1)).level;
  desk.freeze();
  await expect(functions).toContainText("silent");
  await dragFader(page, "fader-1", before, 0.9);
  await expect(page.getByRole("region", { name: "Heard last" })).toContainText("kept until the desk answers");
  // What the engine has not told yet when it dies, dies with it: where the fader stands is told with what is kept.
  await expect(control(page, "fader-1")).toHaveAttribute("aria-valuenow", /^(89|90|91)$/);
  await velvet.post("/api/break-engine?how=exit");
  await expect.poll(() => velvet.output.join("")).toContain("started again");
  desk.thaw();
  await expect.poll(async () => (await desk.playback(1, 1)).level).toBeCloseTo(0.9, 1);
});

test("the desk loses its power: silent, then back and redrawn", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await desk.act({ kind: "on", page: 1, playback: 1, value: true });
  await expectLight(page, "pad-1", "full");
  await desk.kill();
  const functions = page.getByRole("region", { name: "What listens" });
  await expect(functions).toContainText(/refusing|silent/);
  await expectLight(page, "pad-1", "pulse");
  await expect(control(page, "pad-1")).toHaveAccessibleName(/no answer/);
  await desk.start();
  await expect(functions).toContainText("answering");
  await expectLight(page, "pad-1", "dim"); // the desk forgot that it was on
  await control(page, "pad-1").click();
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
  await expectLight(page, "pad-1", "full");
});

test("the desk freezes: silent with what to check, and answering again when it wakes", async ({
  page,
  velvet,
  desk,
}) => {
  await openPlace(page, velvet, "connect");
  const card = page.getByRole("article", { name: "Lights" });
  await expect(card).toContainText("answering");
  desk.freeze();
  await expect(card).toContainText(/silent for \d+ s/);
  await expect(card.getByRole("alert")).toContainText("It gets messages and says nothing.");
  await expect(card.getByRole("alert")).toContainText("remote control by OSC is switched on");
  await card.getByRole("button", { name: "Try it" }).click();
  await expect(card.getByRole("status")).toHaveText("No answer came.");
  desk.thaw();
  await expect(card).toContainText("answering");
});

test("the server is restarted: the page comes back by itself, with the show as it was", async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await velvet.post("/api/edit", { kind: "rename-show", name: "Second night" });
  await expect(page.getByRole("banner")).toContainText("Second night");
  expect(await velvet.stop()).toBe(0);
  await expect(page.getByRole("banner")).toContainText("connecting to the server");
  await velvet.start();
  await expect(page.getByRole("banner")).toContainText("all saved");
  await expect(page.getByRole("banner")).toContainText("Second night");
  await expectLight(page, "pad-1", "dim");
});

test("a wrong port is told as refusing, with its sentence", async ({ page, velvet }) => {
  await openPlace(page, velvet, "connect");
  const card = page.getByRole("article", { name: "Lights" });
  await expect(card).toContainText("answering");
  await more(page, "Lights", "Change address");
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Port", { exact: true }).fill("9");
  await dialog.getByRole("button", { name: "Use this address" }).click();
  await expect(card).toContainText("refusing");
  await expect(card.getByRole("alert")).toContainText("127.0.0.1 is on the network and refuses port 9.");
  await page.keyboard.press("Control+z");
  await expect(card).toContainText("answering");
  await more(page, "Lights", "Try it");
  await expect(card.getByRole("status")).toHaveText(/It answered in \d+ ms\./);
});

for (const place of ["run", "map", "connect"] as const)
  test(`the server stands still: ${place} says so within two seconds, and is fresh again at once`, async ({
    page,
    velvet,
    desk,
  }) => {
    await openPlace(page, velvet, place);
    const banner = page.getByRole("alert").filter({ hasText: "No connection since" });
    await expect(page.getByText("answering").first()).toBeVisible();
    velvet.freeze();
    try {
      await expect(banner).toContainText("presses here go nowhere");
      await expect(page.getByText("answering")).toHaveCount(0);
      if (place === "run") {
        await control(page, "pad-1").click();
        await expect(page.getByText("Not played: there is no connection to the server.")).toBeVisible();
      }
      await desk.act({ kind: "page", value: 5 });
    } finally {
      velvet.thaw();
    }
    await expect(banner).toHaveCount(0);
    await expect(page.getByText("Home on th").or(page.getByText("answering")).first()).toBeVisible();
    expect((await desk.playback(1, 1)).on).toBe(false); // what was refused is not carried out later
  });
