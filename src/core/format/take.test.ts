import { readdirSync, readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { library, mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import { told } from "../../../tests/rig/told.ts";
import { readShow, readSurfaceProfile } from "../edit/read.ts";
import { compileShow } from "../mapping/compile.ts";
import { encodeOsc } from "../osc/encode.ts";
import { dryRun } from "../translate/dry-run.ts";
import { profilesOf } from "./profiles.ts";
import { entryBytes, midiEntry, oscEntry, readTake, writeTake } from "./take.ts";

const HEAD = '{"format":"velvet-hinge/take","version":1}';
const read = (...lines: string[]) => readTake([HEAD, ...lines].join("\n"));
const faults = (...lines: string[]) => {
  const result = read(...lines);
  return result.ok ? [] : result.problems.map(told);
};

/** JSON has no negative zero. */
const withoutSign = (value: number) => value + 0;

describe("a take", () => {
  test("what is written is read back, bytes for bytes", () => {
    const osc = encodeOsc({
      kind: "message",
      address: "/a",
      args: [
        { type: "i", value: -4 },
        { type: "f", value: 0.1 },
        { type: "d", value: 0.1 },
        { type: "s", value: "ü" },
        { type: "b", value: Uint8Array.of(1, 2, 3) },
        { type: "h", value: -(2n ** 60n) },
        { type: "t", value: 2n ** 63n },
        { type: "r", value: "#e9b44cff" },
        { type: "m", value: [0, 144, 60, 1] },
        { type: "[", value: [{ type: "T" }, { type: "N" }] },
      ],
    });
    const entries = [midiEntry(0, "deck", "in", Uint8Array.of(0x90, 60, 1)), oscEntry(12.5, "lights", "in", osc)];
    const back = readTake(writeTake(entries));
    expect(back).toEqual({ ok: true, value: entries });
    expect(back.ok && back.value.map(entryBytes)).toEqual([Uint8Array.of(0x90, 60, 1), osc]);
  });
  test("a 32-bit float is written with the fewest digits that mean it", () => {
    const osc = (value: number) => encodeOsc({ kind: "message", address: "/a", args: [{ type: "f", value }] });
    expect(oscEntry(0, "d", "out", osc(0.1))).toMatchObject({ osc: { args: [{ value: 0.1 }] } });
    fc.assert(
      fc.property(fc.float({ noNaN: true, noDefaultInfinity: true }).map(withoutSign), (value) => {
        expect(entryBytes(oscEntry(0, "d", "out", osc(value)))).toEqual(osc(value));
      }),
    );
  });
  test("bytes that are no OSC are kept as bytes", () => {
    expect(oscEntry(0, "d", "in", Uint8Array.of(1, 2))).toEqual({ ms: 0, port: "d", dir: "in", midi: "01 02" });
  });
  test.each([
    ["no JSON", "{", /^lines\[1\]: this is not a JSON document/],
    [
      "a time that goes back",
      '{"ms":5,"port":"a","dir":"in","midi":"90 3C 01"}\n{"ms":4,"port":"a","dir":"in","midi":"90 3C 01"}',
      /^lines\[2\]\.ms: the time must not lie before 5 ms, the time of the line above/,
    ],
    ["no direction", '{"ms":5,"port":"a","midi":"90"}', /^lines\[1\]/],
    ["hex that is none", '{"ms":5,"port":"a","dir":"in","midi":"9G"}', /^lines\[1\]/],
    ["an address that is none", '{"ms":5,"port":"a","dir":"in","osc":{"address":"a","args":[]}}', /^lines\[1\]/],
  ])("%s is refused with its line", (_name, line, wanted) => {
    expect(faults(line)[0]).toMatch(wanted);
  });
  test("a file that is no take is refused at its first line", () => {
    const result = readTake('{"format":"something"}');
    expect(result.ok ? [] : result.problems.map(told)[0]).toMatch(/^lines\[0\]\.format: expected/);
  });
});

describe("the dry run", () => {
  const show = showWith([mapping("pad-1", toggle(1))]);
  const take = (text: string) => {
    const result = readTake(text);
    if (!result.ok) throw new Error(result.problems.map(told).join(" "));
    return result.value;
  };

  test("the example of the documentation gives the same bytes twice, and what stands there", () => {
    const demo = readShow(JSON.parse(readFileSync("examples/lantern-regatta.show.json", "utf8")), profiles);
    if (!demo.ok) throw new Error("the demo show is not valid");
    const entries = take(readFileSync("examples/first-presses.take.jsonl", "utf8"));
    const run = () => {
      const result = dryRun(demo.value, entries, profiles);
      return result.ok ? writeTake(result.value) : "";
    };
    expect(run()).toBe(run());
    expect(run()).toBe(readFileSync("examples/first-presses.out.jsonl", "utf8"));
  });
  test("heartbeats and subscriptions are left out, and what a recording sent itself is worked out anew", () => {
    const entries = take(
      [
        HEAD,
        '{"ms":0,"port":"lights","dir":"in","osc":{"address":"/now/page","args":[{"type":"i","value":3}]}}',
        '{"ms":10,"port":"deck","dir":"in","midi":"90 24 7F"}',
        '{"ms":10,"port":"lights","dir":"out","osc":{"address":"/something/else","args":[]}}',
      ].join("\n"),
    );
    const result = dryRun(show, entries, profiles);
    const toDesk = result.ok ? result.value.filter((e) => e.port === "lights") : [];
    expect(toDesk).toEqual([
      { ms: 10, port: "lights", dir: "out", osc: { address: "/set/playback/3/1/on", args: [{ type: "i", value: 1 }] } },
    ]);
  });
  test("time passes: what was sent and not confirmed shows in the lights", () => {
    const entries = take(
      [
        HEAD,
        '{"ms":0,"port":"lights","dir":"in","osc":{"address":"/now/page","args":[{"type":"i","value":3}]}}',
        '{"ms":100,"port":"deck","dir":"in","midi":"90 24 7F"}',
      ].join("\n"),
    );
    const result = dryRun(show, entries, profiles);
    const lights = result.ok
      ? result.value.filter((e) => e.port === "deck" && "midi" in e && e.midi.startsWith("90 24"))
      : [];
    expect(lights.at(-1)?.ms).toBe(360); // the first tick past 250 ms
  });
  test.each([
    [
      "a port the show does not have",
      '{"ms":0,"port":"moon","dir":"in","midi":"90 24 7F"}',
      "lines[1].port: there is no surface or desk “moon”.",
    ],
    [
      "OSC for a surface",
      '{"ms":0,"port":"deck","dir":"in","osc":{"address":"/a","args":[]}}',
      "lines[1].osc: expected MIDI for this surface.",
    ],
  ])("%s is refused with its line", (_name, line, wanted) => {
    const result = dryRun(show, take(`${HEAD}\n${line}`), profiles);
    expect(result.ok ? [] : result.problems.map(told)).toEqual([wanted]);
  });
});

describe("the example of each section", () => {
  const folder = "examples/sections";
  const sections = readdirSync(folder)
    .filter((f) => f.endsWith(".show.json"))
    .map((f) => f.replace(".show.json", ""));
  const bench = readSurfaceProfile(JSON.parse(readFileSync(`${folder}/workbench.surface.json`, "utf8")));
  if (!bench.ok) throw new Error(bench.problems.map(told).join(" "));
  const all = profilesOf([...library.surfaces, bench.value], library.desks);
  test("there is one for each", () => {
    expect(sections).toEqual(
      "actions bindings conditions gestures guard house inputs layers midi-desk routes shapes takeover".split(" "),
    );
  });
  test.each(sections)("%s compiles to the same tables twice", (section) => {
    const text = readFileSync(`${folder}/${section}.show.json`, "utf8");
    const tables = () => {
      const document = readShow(JSON.parse(text), all);
      if (!document.ok) throw new Error(document.problems.map(told).join(" "));
      const { actionTable, layerOf, mappingOf, ...rest } = compileShow(document.value, all);
      const names = [[...layerOf], document.value.mappings.map(({ id }) => mappingOf.get(id)), [...actionTable.ints]];
      return JSON.stringify([names, rest], (_key, value: unknown) =>
        value instanceof Map || value instanceof Set
          ? [...value]
          : ArrayBuffer.isView(value)
            ? Array.from(value as Uint8Array)
            : value,
      );
    };
    expect(tables()).toBe(tables());
  });
  test.each(sections)("%s gives the same bytes twice, and what stands beside it", (section) => {
    const document = readShow(JSON.parse(readFileSync(`${folder}/${section}.show.json`, "utf8")), all);
    if (!document.ok) throw new Error(document.problems.map(told).join(" "));
    const entries = readTake(readFileSync(`${folder}/${section}.take.jsonl`, "utf8"));
    if (!entries.ok) throw new Error(entries.problems.map(told).join(" "));
    const run = () => {
      const result = dryRun(document.value, entries.value, all);
      return result.ok ? writeTake(result.value) : result.problems.map(told).join(" ");
    };
    expect(run()).toBe(run());
    expect(run()).toBe(readFileSync(`${folder}/${section}.out.jsonl`, "utf8"));
  });
});
