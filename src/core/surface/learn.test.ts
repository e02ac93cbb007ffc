import { describe, expect, test } from "vitest";
import { parseHexBytes } from "../midi/hex.ts";
import { candidateKey, type HeardMessage, learn } from "./learn.ts";

/** Messages of three bytes or less, as hex, 8 ms apart; those joined by "+" come together. */
function heard(text: string, source = "a", fromMs = 0): HeardMessage[] {
  return text
    .split("|")
    .flatMap((group, k) =>
      group.split("+").map((hex) => ({ source, atMs: fromMs + k * 30, bytes: parseHexBytes(hex.trim())! })),
    );
}

describe("rule 5: learn takes the control that moved most", () => {
  test("and names the others it saw", () => {
    const { best, others } = learn([
      ...heard("B0 01 10|B0 01 11|B0 01 12"),
      ...heard("B0 02 00|B0 02 20|B0 02 40|B0 02 60"),
      ...heard("90 24 7F|80 24 40"),
    ]);
    expect(best).toMatchObject({ kind: "button", sends: { kind: "note", channel: 1, number: 36 } });
    expect(others.map((o) => o.sends)).toEqual([
      { kind: "controller", channel: 1, number: 2 },
      { kind: "controller", channel: 1, number: 1 },
    ]);
  });
  test.each<[string, string, string, object, string]>([
    ["a pad", "90 24 50|80 24 40", "pad", { kind: "note", channel: 1, number: 36 }, "springs-back"],
    ["a button by velocity 0", "90 24 7F|90 24 00", "button", { kind: "note", channel: 1, number: 36 }, "springs-back"],
    [
      "a latch that says on both times",
      "90 24 7F|90 24 7F",
      "button",
      { kind: "note", channel: 1, number: 36 },
      "latches-both-on",
    ],
    [
      "a controller button",
      "B0 40 7F|B0 40 00",
      "button",
      { kind: "controller", channel: 1, number: 64 },
      "springs-back",
    ],
    [
      "a 7-bit fader",
      "B1 07 10|B1 07 14|B1 07 1A|B1 07 22",
      "fader",
      { kind: "controller", channel: 2, number: 7 },
      "absolute",
    ],
    ["a pitch-bend fader", "E0 00 40|E0 10 44|E0 00 50", "fader", { kind: "bend", channel: 1 }, "absolute"],
    [
      "MSB with its LSB",
      "B0 07 10+B0 27 05|B0 07 11+B0 27 7F|B0 07 12+B0 27 00",
      "fader",
      { kind: "controller-14", channel: 1, number: 7 },
      "absolute",
    ],
    [
      "LSB with its MSB",
      "B0 27 05+B0 07 10|B0 27 7F+B0 07 11",
      "fader",
      { kind: "controller-14", channel: 1, number: 7 },
      "absolute",
    ],
    [
      "a parameter number",
      "B0 63 02+B0 62 2C+B0 06 10+B0 26 05|B0 06 20+B0 26 05",
      "fader",
      { kind: "nrpn", channel: 1, number: 300 },
      "absolute",
    ],
    [
      "a two's complement encoder",
      "B0 10 01|B0 10 01|B0 10 7F|B0 10 7F",
      "encoder",
      { kind: "relative", channel: 1, number: 16, encoding: "twos-complement" },
      "relative",
    ],
    [
      "a sign-bit encoder",
      "B0 10 01|B0 10 01|B0 10 42|B0 10 42|B0 10 47",
      "encoder",
      { kind: "relative", channel: 1, number: 16, encoding: "sign-bit" },
      "relative",
    ],
    [
      "an offset encoder",
      "B0 10 41|B0 10 41|B0 10 3F|B0 10 3E",
      "encoder",
      { kind: "relative", channel: 1, number: 16, encoding: "offset-64" },
      "relative",
    ],
    ["a program button", "C0 05", "program", { kind: "program", channel: 1, number: 5 }, "one-shot"],
    ["a transport button", "FA", "transport", { kind: "transport", message: "start" }, "one-shot"],
  ])("%s is told by what it sends", (_name, text, kind, sends, behaviour) => {
    const { best, others } = learn(heard(text));
    expect(best).toMatchObject({ kind, sends, behaviour });
    expect(others).toEqual([]);
  });
  test("press and release are one control, and more sure than a press alone", () => {
    const both = learn(heard("90 24 7F|80 24 40")).best!;
    const press = learn(heard("90 24 7F")).best!;
    expect([both.messages, both.confidence > press.confidence]).toEqual([2, true]);
  });
  test("a release whose press came before the window is no candidate", () => {
    const { best, others } = learn(heard("80 30 40|90 24 7F"));
    expect([best?.sends, others]).toEqual([{ kind: "note", channel: 1, number: 36 }, []]);
  });
  test("clock, active sensing and pressure name nothing", () => {
    expect(learn(heard("F8|F8|FE|D0 10|A0 24 10")).best).toBeNull();
  });
  test("a source, or a control that will not stand still, can be ignored", () => {
    const noisy = heard("B0 01 10|B0 01 70|B0 01 10|B0 01 70");
    const wanted = heard("B0 02 10|B0 02 14|B0 02 18", "b");
    const all = [...noisy, ...wanted];
    expect(learn(all).best!.source).toBe("a");
    expect(learn(all, { sources: new Set(["a"]) }).best!.source).toBe("b");
    const jitter = candidateKey("a", { kind: "controller", channel: 1, number: 1 });
    expect(learn(all, { controls: new Set([jitter]) }).best!.source).toBe("b");
  });
  test("the answer does not depend on which source comes first in the window", () => {
    const one = heard("B0 01 10|B0 01 70|B0 01 20");
    const two = heard("B0 02 10|B0 02 14|B0 02 18", "b");
    expect(learn([...one, ...two]).best).toEqual(learn([...two, ...one]).best);
  });
});
