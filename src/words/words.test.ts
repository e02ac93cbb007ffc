/** Every code has its words, and the page that lists them has every code and no other. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, test } from "vitest";
import demo from "../../examples/lantern-regatta.show.json" with { type: "json" };
import { profiles } from "../../tests/rig/shows.ts";
import { RULES } from "../core/format/rules.ts";
import { ALL_OUTCOMES, OUTCOME, OUTCOMES, outcomeOf } from "../core/trace/outcome.ts";
import { ENGLISH } from "./english.ts";
import { ENGLISH_FAULTS } from "./english-faults.ts";
import { problemAdvice, problemWords } from "./problems.ts";
import { problemsPage } from "./problems-page.ts";
import { troubleHint, troubleWords } from "./troubles.ts";
import { whereWords } from "./where.ts";

const PAGE = readFileSync("docs/problems.md", "utf8");

/** The codes of one chapter of the page, as they stand there. */
function codesOf(chapter: string): string[] {
  const text = PAGE.split(`## ${chapter}\n`)[1]?.split("\n## ")[0] ?? "";
  return [...text.matchAll(/^\| `([^`]+)` \|/gm)].map(([, code]) => code!);
}

/** The texts of all files of the core but its tests. */
function coreTexts(folder = "src/core"): string[] {
  return (
    readdirSync(folder, { withFileTypes: true, recursive: true })
      .filter((e) => e.isFile() && e.name.endsWith(".ts") && !e.name.endsWith(".test.ts"))
      // Codecs have codes of their own, which a row of traffic tells as "malformed".
      .filter((e) => !e.parentPath.includes(join("core", "osc")))
      .map((e) => readFileSync(join(e.parentPath, e.name), "utf8"))
  );
}

describe("docs/problems.md", () => {
  test("is what the words make now", () => expect(PAGE).toBe(problemsPage()));

  test("has every code of its table, and no other", () => {
    expect(codesOf("Problems")).toEqual(Object.keys(ENGLISH_FAULTS.problems));
    expect(codesOf("Rules of fields").sort()).toEqual([...RULES].sort());
    expect(codesOf("Troubles of ports")).toEqual(Object.keys(ENGLISH_FAULTS.troubles));
    expect(codesOf("Checks")).toEqual(Object.keys(ENGLISH.advice));
    expect(codesOf("Outcomes")).toEqual(ALL_OUTCOMES);
  });

  test("every code that the core tells as a fault is on it, and every one on it is told somewhere", () => {
    const core = coreTexts().join("\n");
    const on = new Set(["Problems", "Troubles of ports", "Checks"].flatMap(codesOf));
    for (const [, code] of core.matchAll(/\bcode: "([a-z-]+)"/g)) expect(on, code).toContain(code);
    for (const code of on) expect(core, code).toContain(`"${code}"`);
    for (const rule of RULES) expect(core.split(`"${rule}"`).length, `${rule} is used`).toBeGreaterThan(2);
  });
});

describe("sentences", () => {
  const examples = Object.values(ENGLISH_FAULTS.problems).map((p) => p.example);

  test.each(examples.map((e) => [e.code, e] as const))("%s is a sentence, with what to do", (_code, example) => {
    const words = problemAdvice(example);
    expect(words).toMatch(/^[A-Z“].*\.$/);
    expect(words).not.toMatch(/undefined|NaN|\[object|\[\d+\]/);
  });

  test("troubles of ports are clauses, with a sentence of what to do", () => {
    for (const { example } of Object.values(ENGLISH_FAULTS.troubles)) {
      expect(troubleWords(example)).toMatch(/^([a-z]|MIDI ).*[^.]$/);
      expect(troubleHint(example)).toMatch(/^[A-Z“].*\.$/);
    }
    expect(troubleWords(undefined)).toBe("");
  });

  test("every outcome has words of its own", () => {
    const facts = { a: 1, b: 0, length: 3, mapping: "", parameter: () => "p", condition: "", reason: "" };
    for (const outcome of ALL_OUTCOMES) expect(ENGLISH.outcomes[outcome](facts), outcome).toMatch(/\S/);
  });
});

describe("the table of outcomes", () => {
  test("a number stands for one outcome only", () => {
    const codes = ALL_OUTCOMES.map((o) => OUTCOMES[o].code);
    expect(new Set(codes).size).toBe(codes.length);
    for (const outcome of ALL_OUTCOMES) expect(outcomeOf(OUTCOME[outcome])).toBe(outcome);
  });

  test("what no mapping took is not taken, and upkeep is no matter to a hand", () => {
    for (const outcome of ALL_OUTCOMES) {
      const facts: { taken?: true; untaken?: true; upkeep?: true; tone: string } = OUTCOMES[outcome];
      expect(facts.taken && facts.untaken, outcome).toBeFalsy();
      if (facts.upkeep) expect(facts.tone, outcome).toBe("quiet");
    }
  });
});

describe("a place is said in the words of the show", () => {
  const control = demo.mappings.findIndex((m) => m.control === "pad-4");
  const whereabouts = { document: demo, profiles };

  test("a mapping by its control and gesture, an action by its number", () => {
    expect(
      problemWords(
        {
          code: "out-of-range",
          path: ["mappings", control, "actions", 1, "bindings", "channel"],
          what: "channel",
          value: 99,
          from: 1,
          to: 32,
        },
        whereabouts,
      ),
    ).toMatch(/^Pad 4, Press, (“.+”, )?second action: channel 99: the desk has 1 to 32\.$/);
  });

  test.each([
    [["desks", 0, "port"], "desk “Lights”, port"],
    [["surfaces", 0, "in", "port"], "surface “Deck grid”, in, port"],
    [["mappings", 9999], "10000th mapping"],
    [["settings", "middleC"], "name of note 60"],
    [["settings"], "settings"],
    [["name"], "name"],
    [[], ""],
  ] as const)("%j", (path, words) => expect(whereWords(path, whereabouts)).toBe(words));

  test("a document that has anything anywhere is survived, and no path of a program is shown", () => {
    const odd: unknown[] = [null, 7, "text", [], {}, { mappings: 3 }, { mappings: [null, 3, { control: 9 }] }];
    const keys = ["mappings", "actions", "surfaces", "profiles", "desks", "bindings", "send", "toString", "__proto__"];
    let seed = 7;
    const next = (n: number) => {
      seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648;
      return seed % n;
    };
    for (let i = 0; i < 2000; i++) {
      const path = Array.from({ length: next(7) }, () => (next(2) ? keys[next(keys.length)]! : next(40)));
      const words = whereWords(path, { document: odd[next(odd.length)], profiles });
      expect(words).not.toMatch(/\[\d|undefined|\[object/);
    }
  });
});
