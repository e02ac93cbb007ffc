/** An edit that is put in from the tables of before leaves what runs as if the whole show had been put in anew. */
import fc from "fast-check";
import { expect, test } from "vitest";
import {
  action,
  fixed,
  flash,
  level,
  mapping,
  page,
  profiles,
  shift,
  showWith,
  toggle,
} from "../../../tests/rig/shows.ts";
import type { Action, Mapping, Show } from "../format/show.ts";
import { compileShow } from "../mapping/compile.ts";
import { recompile } from "../mapping/recompile.ts";
import { encodeOsc } from "../osc/encode.ts";
import { moveBytes, pressBytes } from "../surface/press-bytes.ts";
import { Translator } from "./translator.ts";

const PADS = 8;
const ACTIONS: ((n: number) => Action)[] = [
  (n) => toggle(n),
  (n) => flash(n, fixed(1)),
  (n) => flash(n),
  (n) => action("go", "playback.go", { page, playback: fixed(n) }),
  (n) => ({ ...toggle(n), delayMs: 40 }),
  () => shift(),
];
const SCOPES: Partial<Mapping>[] = [
  {},
  { layers: ["shift"] },
  { pages: { desk: "lights", in: [2] } },
  { whileHeld: { surface: "deck", control: "pad-8" } },
  { when: [{ desk: "lights", state: "grand", parameters: {}, from: 0, to: 0.5 }] },
  { gesture: "hold" },
  { on: false },
];
let ids = 0;
const padMapping = (pad: number, kinds: readonly number[], scope: number): Mapping => ({
  ...mapping(
    `pad-${pad + 1}`,
    kinds.map((k, i) => ({ ...ACTIONS[k]!(pad + 1), id: `a${i}` })),
  ),
  ...SCOPES[scope],
  id: `m${ids++}`,
});

const padArb = fc.nat(PADS - 1);
const kindsArb = fc.array(fc.nat(ACTIONS.length - 1), { minLength: 1, maxLength: 3 });
const stepArb = fc.oneof(
  { weight: 6, arbitrary: fc.record({ kind: fc.constant("press" as const), pad: padArb, on: fc.boolean() }) },
  {
    weight: 3,
    arbitrary: fc.record({ kind: fc.constant("move" as const), to: fc.double({ min: 0, max: 1, noNaN: true }) }),
  },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant("page" as const), to: fc.integer({ min: 1, max: 3 }) }) },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant("said" as const), pad: padArb, on: fc.boolean() }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant("grand" as const), to: fc.constantFrom(0.2, 0.9) }) },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant("wait" as const), ms: fc.integer({ min: 1, max: 600 }) }) },
  {
    weight: 4,
    arbitrary: fc.record({
      kind: fc.constant("set" as const),
      at: fc.nat(),
      pad: padArb,
      kinds: kindsArb,
      scope: fc.nat(SCOPES.length - 1),
    }),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      kind: fc.constant("add" as const),
      at: fc.nat(),
      pad: padArb,
      kinds: kindsArb,
      scope: fc.nat(SCOPES.length - 1),
    }),
  },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant("remove" as const), at: fc.nat() }) },
);
type Step = typeof stepArb extends fc.Arbitrary<infer T> ? T : never;

/** What leaves a translator that is given these steps. */
class Run {
  readonly left: string[] = [];
  readonly translator: Translator;
  #show: Show;
  #atMs = 0;
  readonly #whole: boolean;

  constructor(show: Show, whole: boolean) {
    this.#show = show;
    this.#whole = whole;
    const note = (to: string) => (i: number, bytes: Uint8Array, at: number, length: number) =>
      void this.left.push(`${to}${i} ${Buffer.from(bytes.subarray(at, at + length)).toString("hex")}`);
    this.translator = new Translator(
      compileShow(show, profiles),
      { toDesk: note("desk"), toSurface: note("surface") },
      { links: false },
    );
  }

  step(step: Step, made: Mapping | null): void {
    const { profile, indexOf } = this.translator.world.context.compiled.surfaces[0]!;
    const control = (id: string) => profile.controls[indexOf.get(id)!]!;
    const say = (address: string, value: number, type: "i" | "f" = "i") =>
      this.translator.deskBytes(0, encodeOsc({ kind: "message", address, args: [{ type, value }] }), this.#atMs);
    this.#atMs += 5;
    switch (step.kind) {
      case "press":
        this.translator.surfaceBytes(0, pressBytes(control(`pad-${step.pad + 1}`), step.on), this.#atMs);
        break;
      case "move":
        this.translator.surfaceBytes(0, moveBytes(control("fader-1"), step.to), this.#atMs);
        break;
      case "page":
        say("/now/page", step.to);
        break;
      case "said":
        say(`/now/playback/1/${step.pad + 1}/on`, step.on ? 1 : 0);
        break;
      case "grand":
        say("/now/grand", step.to, "f");
        break;
      case "wait":
        for (const endMs = this.#atMs + step.ms; this.#atMs < endMs; this.#atMs += 20) this.translator.tick(this.#atMs);
        break;
      default:
        this.#edit(step, made);
    }
    this.translator.tick(this.#atMs);
  }

  #edit(step: Extract<Step, { at: number }>, made: Mapping | null): void {
    const mappings = this.#show.mappings.slice();
    const at = step.at % (mappings.length + 1);
    if (step.kind === "add") mappings.splice(at, 0, made!);
    else if (at === mappings.length) return;
    else if (step.kind === "remove") mappings.splice(at, 1);
    else mappings[at] = { ...made!, id: mappings[at]!.id };
    this.#show = { ...this.#show, mappings };
    if (this.#whole) this.translator.swap(compileShow(this.#show, profiles), this.#atMs);
    else
      this.translator.swapMappings(
        recompile(this.translator.world.context.compiled, this.#show, profiles, { reuse: true })!,
        this.#atMs,
      );
  }

  /** What holds where, and what every lamp is. */
  state() {
    const { context, surfaces, held } = this.translator.world;
    return {
      active: [...context.active],
      lights: [...surfaces[0]!.lightSent],
      caught: [...surfaces[0]!.caught],
      held: held.list().map((h) => h.control),
    };
  }
}

test("an edit that lets a held layer go draws each light once, and right", () => {
  const show = (kinds: readonly number[]) =>
    showWith([
      { ...padMapping(0, kinds, 0), id: "m-first" },
      { ...padMapping(1, [0], 1), id: "m-shifted" },
    ]);
  const [part, whole] = [false, true].map((isWhole) => new Run(show([5, 0]), isWhole)) as [Run, Run];
  for (const run of [part, whole]) {
    run.step({ kind: "page", to: 1 }, null);
    run.step({ kind: "press", pad: 0, on: true }, null);
    run.left.length = 0;
    run.step({ kind: "set", at: 0, pad: 0, kinds: [0, 0], scope: 0 }, padMapping(0, [0, 0], 0));
  }
  expect(part.left).toEqual(whole.left);
  expect(part.state()).toEqual(whole.state());
  const lamps = part.left.filter((text) => text.startsWith("surface0 90")).map((text) => text.slice(0, -2));
  expect(new Set(lamps).size).toBe(lamps.length);
});

test("bytes, lights and what holds are the same after every step", () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(padArb, kindsArb, fc.nat(SCOPES.length - 1)), { maxLength: 10 }),
      fc.array(stepArb, { minLength: 4, maxLength: 40 }),
      (first, steps) => {
        const mappings = [
          mapping("fader-1", level(1)),
          ...first.map(([pad, kinds, scope]) => padMapping(pad, kinds, scope)),
        ];
        const show = showWith(mappings);
        const [part, whole] = [new Run(show, false), new Run(show, true)];
        for (const step of steps) {
          const made = "kinds" in step ? padMapping(step.pad, step.kinds, step.scope) : null;
          part.step(step, made);
          whole.step(step, made);
          expect(part.left, JSON.stringify(step)).toEqual(whole.left);
          expect(part.state(), JSON.stringify(step)).toEqual(whole.state());
        }
      },
    ),
    { numRuns: Number(process.env.VELVET_RUNS ?? 100) },
  );
});
