import { describe, expect, test } from "vitest";
import type { LiveClient } from "./hub.ts";
import { type Looked, Looking } from "./looking.ts";

const page = () => ({}) as LiveClient;

describe("what pages look for", () => {
  test("it is what all of them want, as long as one does, and told only where it is something else", () => {
    const told: Looked[] = [];
    const looking = new Looking((wanted) => told.push(wanted));
    const [a, b] = [page(), page()];
    looking.set(a, { universes: true, ports: [9000] });
    looking.set(b, { universes: true, ports: [9001, 9000] });
    looking.set(b, { universes: false, ports: [9000, 9001] });
    looking.leave(a);
    looking.leave(a);
    expect(told).toEqual([
      { universes: true, ports: [9000] },
      { universes: true, ports: [9000, 9001] },
      { universes: false, ports: [9000, 9001] },
    ]);
    looking.tell(); // an engine that begins
    looking.set(b, { universes: false, ports: [] });
    expect(told.slice(3)).toEqual([
      { universes: false, ports: [9000, 9001] },
      { universes: false, ports: [] },
    ]);
    looking.tell();
    expect(told).toHaveLength(5);
  });
});
