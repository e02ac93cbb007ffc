import fc from "fast-check";
import { expect, test } from "vitest";
import { IndexSet } from "./index-set.ts";

test("it does what a Set does", () => {
  const step = fc.oneof(
    fc.record({ kind: fc.constant("add" as const), index: fc.nat(19) }),
    fc.record({ kind: fc.constant("delete" as const), index: fc.nat(19) }),
    fc.record({ kind: fc.constant("clear" as const), index: fc.constant(0) }),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 60 }), (steps) => {
      const ours = new IndexSet(20);
      const plain = new Set<number>();
      for (const { kind, index } of steps) {
        if (kind === "clear") {
          ours.clear();
          plain.clear();
        } else {
          ours[kind](index);
          plain[kind](index);
        }
        expect(ours.size).toBe(plain.size);
        expect(ours.has(index)).toBe(plain.has(index));
      }
      expect(ours.list().sort((a, b) => a - b)).toEqual([...plain].sort((a, b) => a - b));
    }),
  );
});
