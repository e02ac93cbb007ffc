/** npm run formats: writes the JSON Schemas of the open formats to docs/formats; with --check it only compares. */
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { z } from "zod";
import { DeskProfile } from "../core/format/desk-profile.ts";
import { Show } from "../core/format/show.ts";
import { SurfaceProfile } from "../core/format/surface-profile.ts";
import { TakeEntry } from "../core/format/take.ts";

const SCHEMAS = { show: Show, "surface-profile": SurfaceProfile, "desk-profile": DeskProfile, "take-line": TakeEntry };

const check = process.argv.includes("--check");
const old: string[] = [];
for (const [name, schema] of Object.entries(SCHEMAS)) {
  const file = join("docs", "formats", `${name}.schema.json`);
  const text = `${JSON.stringify(z.toJSONSchema(schema, { io: "input" }), null, 2)}\n`;
  if (check) {
    if (!existsSync(file) || readFileSync(file, "utf8") !== text) old.push(file);
  } else writeFileSync(file, text);
}
if (old.length > 0) {
  console.error(`These schemas are older than the code: ${old.join(", ")}. Run npm run formats.`);
  process.exit(1);
}
