/** The shape of a value as a picture: its points are dragged, and what goes in and comes out is there while hands move. */
import { type Application, control, dragFader, expect, openPlace, test } from "./application.ts";
import { expectNoFaults } from "./axe.ts";

type Point = [number, number];
const pointsOf = async (velvet: Application) =>
  (
    (await velvet.show()).mappings as unknown as {
      surface: string;
      control: string;
      actions: { shape: { curve?: { points?: Point[] } } }[];
    }[]
  ).find((m) => m.surface === "deck" && m.control === "fader-4")?.actions[0]?.shape.curve?.points;

test("points are dragged, moved by keys, added and taken off; the value now is what the desk gets", async ({
  page,
  velvet,
  desk,
}) => {
  await openPlace(page, velvet, "map");
  await control(page, "fader-4").click({ position: { x: 20, y: 100 } });
  await page.getByRole("button", { name: /0 % to 100 %/ }).click();
  await page.getByRole("combobox", { name: "Curve" }).click();
  await page.getByRole("option", { name: "own points" }).click();
  const picture = page.getByRole("figure", { name: "What comes out" });
  const points = picture.getByRole("button", { name: /^Point/ });
  await expect(points).toHaveCount(3);
  await expectNoFaults(page);

  const box = (await points.nth(1).boundingBox())!;
  await page.mouse.move(box.x + 7, box.y + 7);
  await page.mouse.down();
  await page.mouse.move(box.x + 40, box.y + 35, { steps: 4 });
  expect((await pointsOf(velvet))![1]).toEqual([0.5, 0.5]); // nothing is changed before it is let go
  await page.mouse.up();
  await expect.poll(async () => (await pointsOf(velvet))![1]![0]).toBeGreaterThan(0.55);
  const [x, y] = (await pointsOf(velvet))![1]!;
  expect(y).toBeLessThan(0.4);
  await points.nth(1).focus();
  await page.keyboard.press("Shift+ArrowLeft");
  await expect.poll(async () => (await pointsOf(velvet))![1]).toEqual([expect.closeTo(x - 0.1, 3), y]);

  await dragFader(page, "fader-4", 0, 0.6);
  const now = picture.locator("[data-now]");
  await expect(now).toHaveText(/^in 60 %, ?curve \d+ %, ?out \d+ %$/);
  const out = Number(/out (\d+) %/.exec(await now.innerText())![1]);
  expect(out).toBeLessThan(55);
  await expect.poll(async () => Math.abs((await desk.playback(1, 4)).level * 100 - out)).toBeLessThan(0.6);

  const field = (await picture.boundingBox())!;
  await page.mouse.dblclick(field.x + 80, field.y + 30);
  await expect.poll(async () => (await pointsOf(velvet))!.length).toBe(4);
  await points.nth(1).focus();
  await page.keyboard.press("Delete");
  await expect.poll(async () => (await pointsOf(velvet))!.length).toBe(3);
  await points.nth(0).focus();
  await page.keyboard.press("Delete"); // an end stays
  await page.keyboard.press("ArrowUp");
  await expect.poll(async () => (await pointsOf(velvet))![0]).toEqual([0, 0.01]);
  expect(await pointsOf(velvet)).toHaveLength(3);
  // Faster than the server answers, none of them is lost.
  for (let i = 0; i < 9; i++) await page.keyboard.press("ArrowUp");
  await expect.poll(async () => (await pointsOf(velvet))![0]).toEqual([0, 0.1]);

  await page.setViewportSize({ width: 1024, height: 768 });
  const [inside, around] = [(await points.nth(2).boundingBox())!, (await page.locator("[data-action]").boundingBox())!];
  expect(inside.x + inside.width).toBeLessThanOrEqual(around.x + around.width);

  // A letter chooses from the list that is closed, as fields of the platform do.
  await page.getByRole("combobox", { name: "Curve" }).focus();
  await page.keyboard.press("a");
  await expect(page.getByRole("combobox", { name: "Curve" })).toHaveText("audio taper");
  await expect(points).toHaveCount(0);
});
