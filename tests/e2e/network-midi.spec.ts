/** Two programs, each with its page, that agree on a MIDI session and play over it. */
import type { Page } from "@playwright/test";
import { control, expect, openPlace, secondApplication, test } from "./application.ts";

async function addSession(page: Page, name: string, port: number): Promise<void> {
  await page.getByRole("button", { name: "Add a session" }).click();
  const dialog = page.getByRole("dialog", { name: "Add a MIDI session" });
  await dialog.getByLabel("Name").fill(name);
  await dialog.getByLabel("Port").fill(String(port));
  await dialog.getByRole("combobox", { name: "Reached from" }).click();
  await page.getByRole("option", { name: "this computer only" }).click();
  await dialog.getByRole("button", { name: "Add it" }).click();
  await expect(page.getByRole("article", { name: `Session ${name}` })).toContainText("Nobody is here yet.");
}

test("a peer is found, invited and let in from the screen; a pad there plays here", async ({ page, velvet, desk }) => {
  const cabin = secondApplication();
  const cabinPage = await page.context().newPage();
  try {
    await cabin.start();
    await openPlace(cabinPage, cabin, "connect");
    await addSession(cabinPage, "Quay cabin", 21_504);
    await openPlace(page, velvet, "connect");
    await addSession(page, "Bridge", 21_506);
    const bridge = page.getByRole("article", { name: "Session Bridge" });
    // What was found and is invited by nobody offers itself.
    const network = page.getByRole("region", { name: "Network" });
    await expect(network.locator("[title='a MIDI session at 127.0.0.1, port 21504']")).toContainText("nobody yet");
    await bridge.getByRole("button", { name: "Invite" }).click();
    const invite = page.getByRole("dialog", { name: "Invite to Bridge" });
    await invite.getByRole("button", { name: "Quay cabin 127.0.0.1:21504" }).click();
    await invite.getByRole("button", { name: "Invite it" }).click();
    await expect(bridge).toContainText("invited, no answer yet");

    // The other end has the last word.
    const theirs = cabinPage.getByRole("article", { name: "Session Quay cabin" });
    await expect(theirs).toContainText("asks to join");
    await theirs.getByRole("button", { name: "Let it in" }).click();
    await expect(theirs).toContainText("connected");
    await expect(bridge).toContainText("connected");
    await expect(bridge.getByText("Quay cabin")).toBeVisible();

    // Here the deck grid is what the session says; there a route hands the drawn one on.
    const deck = page.getByRole("article", { name: "Deck grid" });
    for (const way of ["In", "Out"]) {
      await deck.getByRole("combobox", { name: `${way} port of Deck grid` }).click();
      await page.getByRole("option", { name: "session “Bridge” on the network" }).click();
    }
    const { id } = ((await cabin.show()) as unknown as { sessions: { id: string }[] }).sessions[0]!;
    const port = { kind: "network-midi", session: id };
    const surface = { id: "bridge", name: "The bridge", profile: "deck-grid", in: port, out: port };
    expect((await cabin.post("/api/edit", { kind: "add-surface", surface })).status).toBe(200);
    const route = { id: "r-bridge", name: "To the bridge", on: true, from: "deck", to: "bridge", pass: "all" };
    expect((await cabin.post("/api/edit", { kind: "put-route", item: route })).status).toBe(200);
    await openPlace(cabinPage, cabin, "run");
    await control(cabinPage, "pad-1").click();
    await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
    await expect(deck).toContainText("heard");

    // A session that a surface hangs on is not taken away from under it.
    await bridge.getByRole("button", { name: "Remove Bridge" }).click();
    await expect(page.getByText("Not changed")).toBeVisible();
    await bridge.getByRole("button", { name: "Stop inviting Quay cabin" }).click();
    await expect(bridge).toContainText("Nobody is here yet.");
    await expect(deck).toContainText("no peer of the session is connected");
  } finally {
    await cabinPage.close();
    await cabin.stop();
    cabin.clean();
  }
});
