/** npm run formats: writes the JSON Schemas of the open formats, docs/formats/midi.md and docs/problems.md; with --check it only compares. */
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { z } from "zod";
import { DeskProfile } from "../core/format/desk-profile.ts";
import { MappingsDocument } from "../core/format/mappings-document.ts";
import { Show } from "../core/format/show.ts";
import { SurfaceProfile } from "../core/format/surface-profile.ts";
import { TakeEntry } from "../core/format/take.ts";
import { midiPage } from "../words/midi-page.ts";
import { problemsPage } from "../words/problems-page.ts";

const SCHEMAS = {
  show: Show,
  "surface-profile": SurfaceProfile,
  "desk-profile": DeskProfile,
  "take-line": TakeEntry,
  mappings: MappingsDocument,
};

const PAGES: readonly (readonly [file: string, text: string])[] = [
  ...Object.entries(SCHEMAS).map(
    ([name, schema]) =>
      [
        join("docs", "formats", `${name}.schema.json`),
        `${JSON.stringify(z.toJSONSchema(schema, { io: "input" }), null, 2)}\n`,
      ] as const,
  ),
  [join("docs", "problems.md"), problemsPage()],
  [join("docs", "formats", "midi.md"), midiPage()],
];

const check = process.argv.includes("--check");
const old: string[] = [];
for (const [file, text] of PAGES) {
  if (check) {
    if (!existsSync(file) || readFileSync(file, "utf8") !== text) old.push(file);
  } else writeFileSync(file, text);
}
if (old.length > 0) {
  console.error(`These files are older than the code: ${old.join(", ")}. Run npm run formats.`);
  process.exit(1);
}
