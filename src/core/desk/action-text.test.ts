import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { actionText, MOST_TEXT, TEXT_BYTES } from "./action-text.ts";

const FACTS = { name: "Pad 7", page: 3 };

describe("the text of an action", () => {
  test.each([
    ["Good evening", "Good evening"],
    ["{name} on page {page}: {value}", "Pad 7 on page 3: 0.5"],
    ["{{name}} {value}{value}", "{name} 0.50.5"],
    ["a { b", "a { b"],
    ["", ""],
  ])("“%s” says “%s”", (text, said) => {
    expect(actionText(text, FACTS, 0.5)).toBe(said);
  });

  test("a page that is not known is a dash", () => {
    expect(actionText("{page}", { name: "", page: null }, 0)).toBe("-");
  });

  test("whatever the name is, it is one line, no longer than there is room for, and whole characters", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary", maxLength: 400 }), fc.integer({ min: 0, max: 12 }), (name, times) => {
        const said = actionText("{name}".repeat(times), { name, page: 1 }, 1);
        expect(said.length).toBeLessThanOrEqual(MOST_TEXT);
        expect(new TextEncoder().encode(said).length).toBeLessThanOrEqual(TEXT_BYTES);
        expect(said).not.toMatch(/[\r\n\0]/);
        expect(said.isWellFormed()).toBe(true);
      }),
    );
  });
});
