/**
 * How long one edit of a running show holds up whatever comes meanwhile: its patches, the tables and the new state of every
 * light, beside cloning and compiling the whole show. Prints milliseconds as JSON.
 */
import { patched } from "../../src/core/edit/patched.ts";
import type { Mapping, Show } from "../../src/core/format/show.ts";
import { compileShow } from "../../src/core/mapping/compile.ts";
import { recompile } from "../../src/core/mapping/recompile.ts";
import { encodeOsc } from "../../src/core/osc/encode.ts";
import { Translator } from "../../src/core/translate/translator.ts";
import { editedShow } from "./shows.ts";

const EDITS = Number(process.argv[2] ?? 400);
const WHOLE = 6;
const PAGE_ONE_IS_UP = encodeOsc({ kind: "message", address: "/now/page", args: [{ type: "i", value: 1 }] });

type Patches = Parameters<typeof patched>[1];

/** What people do to a show, one after the other. */
function edits(show: Show, n: number): Patches {
  const at = (n * 7919) % show.mappings.length;
  const mapping = show.mappings[at]!;
  switch (n % 5) {
    case 0:
      return [{ op: "replace", path: ["mappings", at, "name"], value: `Edit ${n}` }];
    case 1:
      return [
        { op: "replace", path: ["mappings", at, "actions", 0, "bindings", "playback", "value"], value: (n % 900) + 1 },
      ];
    case 2:
      return [{ op: "replace", path: ["mappings", at, "on"], value: !mapping.on }];
    case 3:
      return [
        { op: "add", path: ["mappings", at], value: { ...structuredClone(mapping), id: `new-${n}` } satisfies Mapping },
      ];
    default:
      return [{ op: "remove", path: ["mappings", at] }];
  }
}

function measure(mappings: number) {
  const { show, profiles } = editedShow(mappings);
  const translator = new Translator(
    compileShow(show, profiles),
    { toDesk: () => {}, toSurface: () => {} },
    { links: false },
  );
  translator.deskBytes(0, PAGE_ONE_IS_UP, 0);
  const part: number[] = [];
  const whole: number[] = [];
  // First the edits, as they come in a night: cloning shows leaves more to clear away than all of them together.
  for (let n = 0; n < EDITS; n++) {
    const before = translator.world.context.compiled;
    const patches = edits(before.show, n);
    const startMs = performance.now();
    const edited = patched(before.show, patches);
    const next = recompile(before, edited, profiles, { reuse: true });
    if (!next) throw new Error("an edit of one mapping was compiled as a whole");
    translator.swapMappings(next, n * 50);
    part.push(performance.now() - startMs);
    translator.world.ring.drain();
  }
  for (let n = 0; n < WHOLE; n++) {
    const { show: now } = translator.world.context.compiled;
    const startMs = performance.now();
    translator.swap(compileShow(structuredClone(now), profiles), (EDITS + n) * 50);
    whole.push(performance.now() - startMs);
    translator.world.ring.drain();
  }
  return { part, whole };
}

measure(500); // warms up
console.log(JSON.stringify({ small: measure(2000), large: measure(20_000) }));
