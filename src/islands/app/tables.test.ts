/** The tables of places, keys and stand-ins: what newcomers add to, and what must then be so. */
import { existsSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, test } from "vitest";
import demo from "../../../examples/lantern-regatta.show.json" with { type: "json" };
import { portVariables, STAND_INS } from "../../standins/table.mjs";
import { KEYS } from "./keys.ts";
import { FIRST_PLACE, isPlace, PLACE_LIST, PLACE_VIEWS, PLACES } from "./places.ts";

describe("places", () => {
  test("each has an address, a name and a key of its own", () => {
    for (const of of [PLACE_LIST.map((p) => p.id), PLACE_LIST.map((p) => p.name), PLACE_LIST.map((p) => p.key)])
      expect(new Set(of).size).toBe(PLACE_LIST.length);
    for (const { id, key } of PLACE_LIST) {
      expect(id).toMatch(/^[a-z-]+$/);
      expect(key).toMatch(/^[1-9]$/);
    }
  });

  test("each has a view that can be fetched", async () => {
    for (const { id, load } of PLACE_LIST) {
      expect((await load()).default, id).toBeTypeOf("function");
      expect(PLACE_VIEWS[id], id).toBeDefined();
    }
  });

  test("a name of every object is none", () => {
    for (const name of ["toString", "constructor", "__proto__", "", "Map"]) expect(isPlace(name), name).toBe(false);
    expect(isPlace(FIRST_PLACE)).toBe(true);
  });

  test("a locked place is left to one that is not", () => {
    expect(PLACES[FIRST_PLACE].locked).toBe(false);
  });

  test("the browser tests and the README know each of them", () => {
    const specs = readdirSync("tests/e2e").map((f) => readFileSync(join("tests/e2e", f), "utf8"));
    const readme = readFileSync("README.md", "utf8");
    for (const { id, name } of PLACE_LIST) {
      expect(
        specs.some((s) => s.includes(`"${id}"`)),
        id,
      ).toBe(true);
      expect(readme, name).toContain(`docs/screenshots/${id}.png`);
    }
  });
});

describe("keys", () => {
  const written = (k: (typeof KEYS)[number]) =>
    [k.control && "Ctrl", k.shift && "Shift", k.key].filter(Boolean).join(" ");

  test("no key does two things, and every one says what it does", () => {
    expect(new Set(KEYS.map(written)).size).toBe(KEYS.length);
    expect(new Set(KEYS.map((k) => k.does)).size).toBe(KEYS.length);
    for (const k of KEYS) {
      expect(k.key).toBe(k.key.toLowerCase());
      expect(k.does).toMatch(/^[A-Z]/);
    }
  });

  test("every place has its own", () => {
    for (const { key, name } of PLACE_LIST) expect(KEYS.find((k) => k.key === key)?.does).toBe(`Go to ${name}`);
  });
});

describe("stand-ins", () => {
  const all = Object.entries(STAND_INS);

  test("each has a folder, and each folder is one", () => {
    const folders = readdirSync("src/standins", { withFileTypes: true })
      .filter((e) => e.isDirectory() && e.name !== "kit")
      .map((e) => e.name);
    expect(all.map(([, s]) => s.folder).sort()).toEqual(folders.sort());
    for (const folder of folders) expect(existsSync(join("src/standins", folder, "main.ts")), folder).toBe(true);
  });

  test("no two share a port: a desk has its own and the next, where its answers come", () => {
    const ports = all.flatMap(([, s]) => [s.port, s.port + 1, s.webPort]);
    expect(new Set(ports).size).toBe(ports.length);
  });

  test("each is a desk of the demo show, at its ports", () => {
    for (const [id, { port }] of all) {
      const desk = demo.desks.find((d) => d.id === id);
      expect(desk, id).toMatchObject({ port, listenPort: port + 1 });
    }
    expect(demo.desks).toHaveLength(all.length);
  });

  test("the README has its row, and its picture", () => {
    const readme = readFileSync("README.md", "utf8");
    for (const [id, { name, speaks, port, webPort, picture }] of all) {
      const variables = portVariables(id);
      expect(readme).toContain(
        `| | \`${variables.port}\`, \`${variables.webPort}\` | the ${name}: ${speaks} ${port}, page ${webPort} |`,
      );
      expect(readme).toContain(`docs/screenshots/${picture.file}.png`);
    }
  });
});
