import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { library } from "../../../tests/rig/shows.ts";
import { profilesOf } from "../../core/format/profiles.ts";
import type { Show } from "../../core/format/show.ts";
import { ShowStore } from "./show-store.ts";
import { Storage } from "./storage.ts";

test("grow", async () => {
  const folder = mkdtempSync(join(tmpdir(), "grow-"));
  const storage = await Storage.open(folder, "t");
  const show = JSON.parse(readFileSync("examples/lantern-regatta.show.json", "utf8")) as Show;
  const store = await ShowStore.open(storage, profilesOf(library.surfaces, library.desks), () => show);
  const t0 = Date.now();
  let n = 0;
  while (Date.now() - t0 < 150_000) {
    const m = store.show.mappings[n % 128]!;
    const r = await store.edit({ kind: "change-mapping", id: m.id, set: { name: `Name ${n++}` } });
    expect(r.ok).toBe(true);
  }
  const size = readdirSync(folder).reduce((s, f) => s + statSync(join(folder, f)).size, 0);
  console.log("EDITS", n, "BYTES", size, (Date.now() - t0) / n, "ms each", await store.countVersions());
  await storage.close();
  rmSync(folder, { recursive: true });
}, 300_000);
