import { readFileSync } from "node:fs";
import fc from "fast-check";
import { expect, test } from "vitest";
import { library } from "../../../tests/rig/shows.ts";
import { applyEdit } from "../edit/edits.ts";
import { profilesOf } from "./profiles.ts";
import type { Show } from "./show.ts";
import { showJson, withShowJson } from "./show-json.ts";

const demo = JSON.parse(readFileSync("examples/lantern-regatta.show.json", "utf8")) as Show;
const profiles = profilesOf(library.surfaces, library.desks);

test("is what JSON.stringify writes, also after edits and of what is left out", () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.nat(demo.mappings.length - 1), fc.string({ maxLength: 20 }), fc.boolean()), {
        maxLength: 12,
      }),
      (edits) => {
        let show = demo;
        for (const [at, name, on] of edits) {
          const { id } = show.mappings[at % show.mappings.length]!;
          const result = applyEdit(show, { kind: "change-mapping", id, set: { name: name.trim(), on } }, profiles);
          if (result.ok) show = result.show;
          expect(showJson(show)).toBe(JSON.stringify(show));
        }
        const message = { kind: "show", show, nothing: undefined, live: { atMs: 1 } };
        expect(withShowJson(message)).toBe(JSON.stringify(message));
      },
    ),
    { numRuns: 30 },
  );
});
