/** Rules 8, 9, 13 and 20 to 23 over networks that lose, delay, double and reorder: what is known is what is so. */
import { describe, expect, test } from "vitest";
import { type DeskManners, type Line, Network, randomFrom, SimulatedDesk } from "../../../tests/rig/network.ts";
import { action, fixed, flash, level, mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import type { DeskProfile } from "../format/desk-profile.ts";
import { profilesOf } from "../format/profiles.ts";
import { compileShow } from "../mapping/compile.ts";
import { decodeOsc } from "../osc/decode.ts";
import { moveBytes, pressBytes } from "../surface/press-bytes.ts";
import { OUTCOME } from "../trace/outcome.ts";
import { readRow, rowCount } from "../trace/traffic-ring.ts";
import { Translator } from "./translator.ts";

const FADERS = [1, 2, 3, 4, 5];
const FLASHES = [6, 7, 8, 9];
const SWITCHES = [10, 11, 12, 13];
const KEYS = [
  ...FADERS.map((n) => `playback/1/${n}/level`),
  ...FLASHES.map((n) => `playback/1/${n}/flash`),
  ...SWITCHES.map((n) => `playback/1/${n}/on`),
];
const show = showWith([
  ...FADERS.map((n) => mapping(`fader-${n}`, level(n, fixed(1)))),
  ...FLASHES.map((n) => mapping(`pad-${n}`, flash(n, fixed(1)))),
  ...SWITCHES.map((n) => mapping(`pad-${n}`, toggle(n, fixed(1)))),
  mapping("pad-1", action("go", "playback.go", { page: fixed(1), playback: fixed(1) })),
]);
const compiled = compileShow(show, profiles);
const TICK_MS = 17;

/** A translator at one end of a network, and a desk at the other. */
class Stage {
  readonly network: Network;
  readonly desk: SimulatedDesk;
  readonly translator: Translator;
  /** Outgoing commands, by what they set. */
  readonly said = new Map<string, number>();
  /** What hands did. */
  readonly pressed = new Map<number, number>();
  commands = 0;
  #nextTickMs = 0;
  /** What each lamp of the surface was sent last. */
  readonly #lamps = new Map<number, number>();

  constructor(line: Line, manners: DeskManners, seed: number, tables = compiled) {
    this.network = new Network(line, seed);
    this.desk = new SimulatedDesk(KEYS, manners, (bytes) => {
      this.network.in++;
      this.network.carry(() => this.translator.deskBytes(0, bytes, this.network.nowMs));
    });
    this.translator = new Translator(
      tables,
      {
        toDesk: (_, bytes, at, length) => {
          const own = bytes.slice(at, at + length);
          this.#count(own);
          this.network.out++;
          this.network.carry(() => this.desk.hear(own));
        },
        toSurface: (_, bytes, at, length) => {
          for (let i = at; i + 3 <= at + length; i += 3)
            this.#lamps.set(bytes[i]! * 128 + bytes[i + 1]!, bytes[i + 2]!);
        },
      },
      { seed },
    );
  }

  #count(bytes: Uint8Array): void {
    const read = decodeOsc(bytes);
    if (!read.ok || read.packet.kind !== "message" || !read.packet.address.startsWith("/set/")) return;
    const { address } = read.packet;
    this.said.set(address, (this.said.get(address) ?? 0) + 1);
    this.commands++;
  }

  run(ms: number): void {
    const untilMs = this.network.nowMs + ms;
    while (this.#nextTickMs <= untilMs) {
      this.network.until(this.#nextTickMs);
      this.translator.tick(this.network.nowMs);
      this.#nextTickMs += TICK_MS;
    }
    this.network.until(untilMs);
  }

  #bytes(bytes: Uint8Array): void {
    this.translator.surfaceBytes(0, bytes, this.network.nowMs);
  }
  control(id: string) {
    const { profile, indexOf } = compiled.surfaces[0]!;
    return profile.controls[indexOf.get(id)!]!;
  }
  move(n: number, travel: number): void {
    this.#bytes(moveBytes(this.control(`fader-${n}`), travel));
  }
  press(n: number, on: boolean): void {
    this.#bytes(pressBytes(this.control(`pad-${n}`), on));
    if (on) this.pressed.set(n, (this.pressed.get(n) ?? 0) + 1);
  }

  /** What is known of a value, by its key. */
  known(key: string): number {
    const [, page, playback, what] = key.split("/") as [string, string, string, string];
    const state = compiled.desks[0]!.states.get(`playback.${what}`)!;
    return this.translator.world.desks[0]!.store.number(state.base + (Number(page) - 1) * 20 + (Number(playback) - 1));
  }
  isWaiting(key: string): boolean {
    const [, page, playback, what] = key.split("/") as [string, string, string, string];
    const state = compiled.desks[0]!.states.get(`playback.${what}`)!;
    return this.translator.world.desks[0]!.store.isWaiting(state.base + (Number(page) - 1) * 20 + Number(playback) - 1);
  }
  /** What became of the messages of the desk since the last call, as codes. */
  became(): number[] {
    const block = this.translator.world.ring.drain();
    return block ? Array.from({ length: rowCount(block) }, (_, k) => readRow(block, k).code) : [];
  }
  position(n: number): number {
    return this.translator.world.surfaces[0]!.position(compiled.surfaces[0]!.indexOf.get(`fader-${n}`)!);
  }
  isCaught(n: number): boolean {
    return this.translator.world.surfaces[0]!.caught[compiled.surfaces[0]!.indexOf.get(`fader-${n}`)!] === 1;
  }

  /** Keys of which something else is known than is so. */
  wrong(): string[] {
    return KEYS.filter((k) => Math.fround(this.known(k)) !== Math.fround(this.desk.values.get(k)!));
  }
  /** Lamps that show something else than they would if all were drawn anew. */
  wrongLamps(): string[] {
    const before = new Map(this.#lamps);
    this.translator.redraw(this.network.nowMs);
    this.run(300); // a surface takes so many a second
    return [...this.#lamps].filter(([lamp, value]) => before.get(lamp) !== value).map(([lamp]) => `lamp ${lamp % 128}`);
  }
  held(): string[] {
    return KEYS.filter((k) => k.endsWith("flash") && this.desk.values.get(k) !== 0);
  }
  /** Switches that do not stand as they were pressed. */
  flipped(): string[] {
    return SWITCHES.filter((n) => this.desk.values.get(`playback/1/${n}/on`) !== (this.pressed.get(n) ?? 0) % 2).map(
      (n) => `switch ${n}`,
    );
  }
  /** Faders whose level is not where they were left, by more than a desk may round. */
  left(step: number): string[] {
    return FADERS.filter(
      (n) => Math.abs(this.desk.values.get(`playback/1/${n}/level`)! - this.position(n)) > step / 2 + 1e-6,
    ).map((n) => `fader ${n}`);
  }
}

/** Hands at work for so long: faders at 100 a second, flashes, switches and a go now and then. */
function play(stage: Stage, ms: number, seed: number): void {
  const random = randomFrom(seed * 7919 + 1);
  const at = FADERS.map(() => 0);
  const moving = FADERS.map(() => 0);
  const down = new Map<number, number>();
  const endMs = stage.network.nowMs + ms;
  while (stage.network.nowMs < endMs) {
    const nowMs = stage.network.nowMs;
    FADERS.forEach((n, i) => {
      if (moving[i]! <= 0) moving[i] = random() < 0.02 ? Math.floor(20 + random() * 80) : 0;
      if (moving[i]! <= 0) return;
      moving[i]!--;
      at[i] = Math.min(1, Math.max(0, at[i]! + (random() - 0.45) * 0.06));
      stage.move(n, at[i]!);
    });
    for (const n of [...FLASHES, ...SWITCHES, 1]) {
      const until = down.get(n);
      if (until !== undefined && nowMs >= until) {
        stage.press(n, false);
        down.delete(n);
      } else if (until === undefined && random() < 0.004) {
        stage.press(n, true);
        down.set(n, nowMs + 40 + random() * 300);
      }
    }
    stage.run(10);
  }
  for (const n of down.keys()) stage.press(n, false);
}

/** Faders start with hold of their levels. */
function ready(stage: Stage): void {
  stage.run(1500);
  for (const n of FADERS) stage.move(n, 0);
  stage.run(1500);
}

const CLEAN: Line = { roundTripMs: 0, jitterMs: 0, loss: 0, doubled: 0 };
const EXACT: DeskManners = { step: 0, tells: true };

describe("a clean line", () => {
  test.each([0, 20, 80, 250, 500])(
    "of %s ms round trip: nothing is wrong, nothing is sent twice, no hold is lost",
    (ms) => {
      const stage = new Stage({ ...CLEAN, roundTripMs: ms }, EXACT, 5);
      ready(stage);
      play(stage, 8000, 3);
      stage.run(3 * ms + 1500);
      expect([stage.wrong(), stage.held(), stage.flipped(), stage.left(0), stage.wrongLamps()]).toEqual([
        [],
        [],
        [],
        [],
        [],
      ]);
      expect(FADERS.filter((n) => !stage.isCaught(n))).toEqual([]);
      expect(stage.said.get("/set/playback/1/1/go") ?? 0).toBe(stage.pressed.get(1) ?? 0);
    },
  );

  test.each([0, 80, 500])("of %s ms to a desk that keeps whole percents: faders keep their hold", (ms) => {
    const stage = new Stage({ ...CLEAN, roundTripMs: ms }, { step: 0.01, tells: true }, 5);
    ready(stage);
    play(stage, 8000, 4);
    stage.run(8000);
    expect([stage.wrong(), stage.left(0.01)]).toEqual([[], []]);
    expect(FADERS.filter((n) => !stage.isCaught(n))).toEqual([]);
  });

  test("a desk that only answers is asked until all is known", () => {
    const stage = new Stage({ ...CLEAN, roundTripMs: 80 }, { step: 0, tells: false }, 5);
    ready(stage);
    play(stage, 6000, 6);
    stage.run(4000);
    expect([stage.wrong(), stage.held(), stage.flipped(), stage.left(0)]).toEqual([[], [], [], []]);
    expect(stage.wrongLamps()).toEqual([]);
  });

  test("two quick presses on a switch are on and off at any round trip", () => {
    for (const roundTripMs of [0, 80, 300, 800]) {
      const stage = new Stage({ ...CLEAN, roundTripMs }, EXACT, 1);
      stage.run(2000);
      for (const on of [true, false, true, false]) {
        stage.press(10, on);
        stage.run(30);
      }
      stage.run(4000);
      expect(stage.desk.values.get("playback/1/10/on"), `${roundTripMs} ms`).toBe(0);
      expect(stage.said.get("/set/playback/1/10/on")).toBe(2);
    }
  });

  test("a change at the desk while a fader moves takes the hold; one before or after it, too", () => {
    for (const roundTripMs of [0, 80, 400]) {
      const stage = new Stage({ ...CLEAN, roundTripMs }, EXACT, 1);
      ready(stage);
      for (let n = 1; n <= 60; n++) {
        stage.move(1, n / 127);
        if (n === 30) stage.desk.touch("playback/1/1/level", 0.9);
        stage.run(10);
      }
      stage.run(roundTripMs + 50);
      const after = stage.desk.values.get("playback/1/1/level")!;
      // Either ours came last and holds, or theirs did and the fader has to catch it: what is known is what is so.
      stage.run(6000);
      expect(stage.wrong()).toEqual([]);
      stage.desk.touch("playback/1/1/level", 0.05);
      stage.run(3000);
      expect([stage.known("playback/1/1/level") < after + 1, stage.isCaught(1)]).toEqual([true, false]);
    }
  });
});

/** The lighting desk, with another kind made of it. */
const changed = (change: (profile: DeskProfile) => DeskProfile) =>
  compileShow(
    show,
    profilesOf(
      [...profiles.surfaces.values()],
      [...profiles.desks.values()].map((p) => (p.id === "quay-lights" ? change(p) : p)),
    ),
  );
const LOST: Line = { ...CLEAN, roundTripMs: 20, loss: 1 };

describe("what nobody here moved", () => {
  test.each([
    ["of which each value can be asked for", compiled],
    [
      "that can only be asked for everything",
      changed((p) => ({ ...p, states: p.states.map(({ ask: _, ...state }) => state) })),
    ],
  ])("and whose report was lost is right again within 12 s, at a desk %s", (_, tables) => {
    for (let seed = 1; seed <= 5; seed++) {
      const stage = new Stage({ ...CLEAN, roundTripMs: 20 }, EXACT, seed, tables);
      stage.run(2000 + seed * 700);
      stage.network.line = LOST;
      stage.desk.touch("playback/1/2/level", 0.4);
      stage.desk.touch("playback/1/10/on", 1);
      stage.network.line = { ...CLEAN, roundTripMs: 20 };
      expect(stage.wrong()).toHaveLength(2);
      stage.run(12_000);
      expect([stage.wrong(), stage.wrongLamps()], `seed ${seed}`).toEqual([[], []]);
    }
  });
  test("costs few questions, and next to none of a desk that does not answer them", () => {
    const asked = (desk: DeskManners, rate: number) => {
      const stage = new Stage({ ...CLEAN, roundTripMs: 20 }, desk, 1);
      stage.run(5000);
      const before = stage.network.out;
      stage.run(20_000);
      expect((stage.network.out - before) / 20).toBeLessThan(rate);
    };
    asked(EXACT, 22);
    asked({ ...EXACT, isDeaf: true }, 4);
  });
});

describe("what is said twice", () => {
  test("a release that was lost is at the desk within 60 ms, before anything is overdue", () => {
    const stage = new Stage({ ...CLEAN, roundTripMs: 20 }, EXACT, 1);
    stage.run(2000);
    stage.press(6, true);
    stage.run(100);
    stage.network.line = LOST;
    stage.press(6, false);
    stage.network.line = { ...CLEAN, roundTripMs: 20 };
    stage.run(40 + 2 * TICK_MS + 10);
    expect(stage.held()).toEqual([]);
  });
  test("what a desk does not report is said again twice, and not once something newer was said", () => {
    const tables = changed((p) => ({
      ...p,
      states: p.states.map(({ ask: _, heard, ...state }) =>
        state.id === "playback.level" || heard === undefined ? state : { ...state, heard },
      ),
    }));
    const stage = new Stage({ ...CLEAN, roundTripMs: 20 }, EXACT, 1, tables);
    stage.run(2000);
    stage.move(1, 0);
    stage.run(500);
    stage.said.clear();
    stage.move(1, 0.3);
    stage.run(40);
    stage.move(1, 0.6);
    stage.network.line = LOST;
    stage.move(1, 0.7);
    stage.network.line = { ...CLEAN, roundTripMs: 20 };
    stage.run(2000);
    expect(stage.said.get("/set/playback/1/1/level")).toBe(3 + 2);
    expect(stage.desk.values.get("playback/1/1/level")).toBeCloseTo(0.7, 2);
  });
});

describe("what a desk does not take", () => {
  test("is sent again a few times, is then said to be not taken, and what is known is what is so", () => {
    const stage = new Stage({ ...CLEAN, roundTripMs: 20 }, { ...EXACT, isLocked: true }, 1);
    ready(stage);
    stage.said.clear();
    stage.press(10, true);
    stage.press(10, false);
    stage.move(1, 0.6);
    stage.run(8000);
    expect([stage.wrong(), stage.known("playback/1/10/on"), stage.known("playback/1/1/level")]).toEqual([[], 0, 0]);
    for (const what of ["10/on", "1/level"]) {
      const times = stage.said.get(`/set/playback/1/${what}`)!;
      expect(times, what).toBeGreaterThan(1);
      expect(times, what).toBeLessThanOrEqual(6);
    }
    expect(stage.became().filter((code) => code === OUTCOME.notTaken)).toHaveLength(2);
    expect(KEYS.filter((key) => stage.isWaiting(key))).toEqual([]);
  });

  test("an edit of the show while a release is lost does not leave it on", () => {
    const stage = new Stage({ ...CLEAN, roundTripMs: 20 }, EXACT, 1);
    stage.run(2000);
    stage.press(6, true);
    stage.run(100);
    stage.network.line = { ...CLEAN, roundTripMs: 20, loss: 1 };
    stage.press(6, false);
    stage.run(200);
    // Another mapping before it: every action has another number now.
    const more = mapping("pad-20", flash(20, fixed(1)));
    stage.translator.swap(compileShow({ ...show, mappings: [more, ...show.mappings] }, profiles), stage.network.nowMs);
    stage.network.line = { ...CLEAN, roundTripMs: 20 };
    stage.run(1500);
    expect(stage.held()).toEqual([]);
  });
});

describe("a line that loses a fifth, doubles and reorders", () => {
  const bad: Line = { roundTripMs: 20, jitterMs: 30, loss: 0.2, doubled: 0.1 };
  test.each([1, 2, 3, 4, 5, 6, 7, 8])("seed %s: three seconds after it ends nothing is wrong or held", (seed) => {
    const stage = new Stage(bad, EXACT, seed);
    ready(stage);
    play(stage, 20_000, seed);
    stage.network.line = { ...CLEAN, roundTripMs: 20 };
    stage.run(3000);
    expect([stage.wrong(), stage.held(), stage.left(0), stage.wrongLamps()]).toEqual([[], [], [], []]);
    expect(stage.said.get("/set/playback/1/1/go") ?? 0).toBe(stage.pressed.get(1) ?? 0);
  });

  test("a lost release is off within a second, while the line stays bad", () => {
    let late = 0;
    let all = 0;
    for (let seed = 1; seed <= 25; seed++) {
      const stage = new Stage(bad, EXACT, seed);
      stage.run(2000);
      for (const n of FLASHES) {
        stage.press(n, true);
        stage.run(300);
        stage.press(n, false);
        stage.run(1000);
        all++;
        if (stage.desk.values.get(`playback/1/${n}/flash`) !== 0) late++;
      }
    }
    expect(late / all).toBeLessThanOrEqual(0.02);
  });
});

describe("300 networks", () => {
  test("what is known is what is so, and nothing that nobody holds is on", () => {
    const networks = Number(process.env.VELVET_NETWORKS ?? 300);
    const faults: string[] = [];
    let extra = 0;
    let left = 0;
    let commands = 0;
    for (let seed = 1; seed <= networks; seed++) {
      const random = randomFrom(seed * 104_729);
      const line: Line = {
        roundTripMs: Math.round(random() ** 2 * 500),
        jitterMs: Math.round(random() ** 2 * 120),
        loss: random() < 0.3 ? 0 : random() * 0.25,
        doubled: random() < 0.5 ? 0 : random() * 0.2,
      };
      const manners: DeskManners = { step: random() < 0.3 ? 0.01 : 0, tells: random() < 0.9 };
      const stage = new Stage(line, manners, seed);
      ready(stage);
      const before = stage.commands;
      play(stage, 4000, seed);
      stage.network.line = { ...line, loss: 0, doubled: 0, jitterMs: 0 };
      stage.run(6000);
      const wrong = [...stage.wrong(), ...stage.held(), ...stage.wrongLamps()];
      left += stage.left(manners.step).length;
      if (wrong.length > 0) faults.push(`${seed} ${JSON.stringify({ ...line, ...manners })}: ${wrong.join(", ")}`);
      const go = stage.said.get("/set/playback/1/1/go") ?? 0;
      if (go !== (stage.pressed.get(1) ?? 0)) faults.push(`${seed}: go left ${go} times`);
      commands += stage.commands - before;
      extra += stage.translator.world.desks[0]!.store.sentAgain;
    }
    expect(faults).toEqual([]);
    // A level that was lost too often is given up, which is told: of all faders not one in two hundred.
    expect(left / (networks * FADERS.length)).toBeLessThan(0.005);
    expect(extra / commands).toBeLessThanOrEqual(0.1);
  }, 240_000);

  test("the same seed gives the same bytes", () => {
    const run = () => {
      const stage = new Stage({ roundTripMs: 60, jitterMs: 60, loss: 0.1, doubled: 0.1 }, EXACT, 77);
      ready(stage);
      play(stage, 3000, 77);
      stage.run(2000);
      return [stage.network.out, stage.network.in, [...stage.said].sort().join(" ")];
    };
    expect(run()).toEqual(run());
  });
});
