// @vitest-environment happy-dom
import { act, cleanup, render } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { showsWords } from "../live/toast.ts";
import { part } from "./part.tsx";

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});
const passed = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));

describe("a part whose code is fetched when it is drawn", () => {
  test("is drawn once it is here, and at once from then on", async () => {
    const load = vi.fn(async () => ({ name }: { name: string }) => <b>{name}</b>);
    const Part = part(load);
    const first = render(<Part name="one" />);
    expect(first.container.textContent).toBe("");
    await passed(0);
    expect(first.container.textContent).toBe("one");
    expect(render(<Part name="two" />).container.textContent).toBe("two");
    expect(load).toHaveBeenCalledTimes(1);
  });

  test("a server that does not answer is asked again, it is said once, and what is around it stays", async () => {
    const said: string[] = [];
    showsWords(Object.assign(() => 0, { error: (text: string) => said.push(text) }) as never);
    let isThere = false;
    const Part = part(async () => {
      if (!isThere) throw new TypeError("Failed to fetch");
      return () => <b>here</b>;
    });
    const { container } = render(
      <p>
        around <Part />
      </p>,
    );
    await passed(5000);
    expect([container.textContent, said]).toEqual(["around ", ["It could not be opened"]]);
    isThere = true;
    await passed(2000);
    expect(container.textContent).toBe("around here");
  });

  test("what is wanted soon is fetched before it is drawn, and drawn at once", async () => {
    const load = vi.fn(async () => () => <b>soon</b>);
    const Part = part(load, "soon");
    await passed(1000);
    expect(load).toHaveBeenCalledTimes(1);
    expect(render(<Part />).container.textContent).toBe("soon");
  });

  test("what is wanted soon and cannot be fetched is asked for again when it is drawn", async () => {
    let isThere = false;
    const Part = part(async () => {
      if (!isThere) throw new TypeError("Failed to fetch");
      return () => <b>soon</b>;
    }, "soon");
    await passed(1000);
    isThere = true;
    const { container } = render(<Part />);
    await passed(0);
    expect(container.textContent).toBe("soon");
  });

  test("one that is gone from the page asks nobody any more", async () => {
    const load = vi.fn(async () => {
      throw new TypeError("Failed to fetch");
    });
    const Part = part(load);
    const { unmount } = render(<Part />);
    await passed(0);
    unmount();
    await passed(10_000);
    expect(load).toHaveBeenCalledTimes(1);
  });
});
