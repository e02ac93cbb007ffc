/** Documents grow old: each version that was released has an example, and every one of them is opened. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, test } from "vitest";
import { profiles } from "../../../tests/rig/shows.ts";
import { readMappings } from "../format/mappings-document.ts";
import type { Read } from "../format/read-format.ts";
import { readTake } from "../format/take.ts";
import { ALL_FORMATS, type Format, NEWEST, stepsOf, upToDate } from "../format/versions.ts";
import { readDeskProfile, readShow, readSurfaceProfile } from "./read.ts";

const OLD = join("examples", "old");

/** "velvet-hinge/desk-profile" as "desk-profile". */
const short = (format: Format) => format.split("/")[1]!;

const READ: Record<Format, (text: string) => Read<unknown>> = {
  "velvet-hinge/show": (text) => readShow(JSON.parse(text), profiles),
  "velvet-hinge/desk-profile": (text) => readDeskProfile(JSON.parse(text)),
  "velvet-hinge/surface-profile": (text) => readSurfaceProfile(JSON.parse(text)),
  "velvet-hinge/take": (text) => readTake(text),
  "velvet-hinge/mappings": (text) => readMappings(text),
};

/** The head of a document: of a take its first line. */
const headOf = (text: string) =>
  JSON.parse(text.startsWith('{"') && text.includes("\n{") ? text.split("\n")[0]! : text) as { version: number };

describe.each(ALL_FORMATS)("%s", (format) => {
  test("a step leads from each version to the next", () => expect(stepsOf(format)).toBe(NEWEST[format] - 1));

  test("there is an example of every version that was released before, and of a take of the first", () => {
    const wanted = Array.from({ length: Math.max(1, NEWEST[format] - 1) }, (_, i) => i + 1);
    const there = readdirSync(OLD).flatMap((f) => {
      const [name, version] = f.split(".");
      return name === short(format) ? [Number(version)] : [];
    });
    expect(there.sort((a, b) => a - b)).toEqual(wanted);
  });

  test("every example is opened, says what it says it is, and comes out as the newest", () => {
    for (const file of readdirSync(OLD).filter((f) => f.startsWith(`${short(format)}.`))) {
      const text = readFileSync(join(OLD, file), "utf8");
      expect(headOf(text).version, file).toBe(Number(file.split(".")[1]));
      const read = READ[format](text);
      expect(read, file).toMatchObject({ ok: true });
      if (read.ok && !Array.isArray(read.value)) expect(read.value, file).toMatchObject({ version: NEWEST[format] });
    }
  });

  test("a newer version is refused with both numbers", () => {
    const newer = JSON.stringify({ format, version: NEWEST[format] + 1 });
    expect(READ[format](`${newer}\n`)).toMatchObject({
      ok: false,
      problems: [{ code: "newer-version", newest: NEWEST[format], found: NEWEST[format] + 1 }],
    });
  });

  test("steps change nothing of what they do not know, and never throw", () => {
    const odd: unknown[] = [null, 3, "x", [], {}, { wire: 4, controls: 7 }, { controls: [null, { place: 1, box: 2 }] }];
    for (const document of odd) {
      expect(upToDate(document, format)).toBe(document);
      for (const version of [1, 0, -1, 1.5, "1", null, 99, Number.NaN]) {
        const head = typeof document === "object" && document !== null ? document : {};
        expect(() => upToDate({ ...head, format, version }, format)).not.toThrow();
      }
    }
    const newest = { format, version: NEWEST[format], place: 1, wire: { kind: "osc-udp" } };
    expect(upToDate(newest, format)).toBe(newest);
  });
});

test("a document that is brought up to date twice is as after once", () => {
  for (const format of ALL_FORMATS.filter((f) => NEWEST[f] > 1)) {
    const old: unknown = JSON.parse(readFileSync(join(OLD, `${short(format)}.1.json`), "utf8"));
    const once = upToDate(old, format);
    expect(upToDate(once, format)).toEqual(once);
    expect(once).not.toEqual(old);
  }
});
