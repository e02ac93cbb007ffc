/** npm run -s dry-run -- --show FILE --take FILE [--out FILE] [--profile FILE …] */
import { readFileSync, writeFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { readDeskProfile, readShow, readSurfaceProfile } from "../core/edit/read.ts";
import { type Profiles, profilesOf } from "../core/format/profiles.ts";
import { parseJson, type Read } from "../core/format/read-format.ts";
import { readTake, writeTake } from "../core/format/take.ts";
import { DESK_PROFILE_FORMAT } from "../core/format/versions.ts";
import { dryRun } from "../core/translate/dry-run.ts";
import { shippedProfiles } from "../server/profiles.ts";
import { problemAdvice } from "../words/problems.ts";

const USAGE = "Use: npm run -s dry-run -- --show FILE --take FILE [--out FILE] [--profile FILE]";

function main(): void {
  const { show, take, out, profile } = readFlags();
  const library = shippedProfiles();
  for (const file of profile) {
    const document = taken(file, parseJson(text(file)));
    const isDesk = (document as { format?: unknown } | null)?.format === DESK_PROFILE_FORMAT;
    if (isDesk) library.desks.push(taken(file, readDeskProfile(document), document));
    else library.surfaces.push(taken(file, readSurfaceProfile(document), document));
  }
  const profiles = profilesOf(library.surfaces, library.desks);
  const document = taken(show, parseJson(text(show)));
  const readable = taken(show, readShow(document, profiles), document, profiles);
  const entries = taken(take, readTake(text(take)));
  const result = writeTake(taken(take, dryRun(readable, entries, profiles)));
  if (out === undefined) process.stdout.write(result);
  else writeFileSync(out, result);
}

function readFlags() {
  try {
    const { values } = parseArgs({
      options: {
        show: { type: "string" },
        take: { type: "string" },
        out: { type: "string" },
        profile: { type: "string", multiple: true, default: [] },
      },
    });
    if (values.show && values.take)
      return { ...values, show: values.show, take: values.take, profile: values.profile ?? [] };
    return leave([USAGE]);
  } catch (error) {
    return leave([(error as Error).message, USAGE]);
  }
}

function text(file: string): string {
  try {
    return readFileSync(file, "utf8");
  } catch (error) {
    return leave([`${file} cannot be read: ${(error as Error).message}`]);
  }
}

/** `document`: what the places of its faults lead into. */
function taken<T>(file: string, read: Read<T>, document?: unknown, profiles?: Profiles): T {
  return read.ok
    ? read.value
    : leave([
        `${file} is refused:`,
        ...read.problems.map((p) => `  ${problemAdvice(p, { document, ...(profiles ? { profiles } : {}) })}`),
      ]);
}

function leave(sentences: string[]): never {
  for (const sentence of sentences) console.error(sentence);
  process.exit(1);
}

main();
