import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { shippedProfiles } from "../../server/profiles.ts";
import type { DeskProfile } from "../format/desk-profile.ts";
import { answerLine, requestOf } from "./http-line.ts";
import { topicLine, topicMessageOf, topicsOf } from "./topic-line.ts";

describe("a line as an HTTP request", () => {
  test.each([
    ["GET /state", { method: "GET", path: "/state", body: "", contentType: "text/plain" }],
    [
      'PUT /level/3?now {"value": 0.5}',
      { method: "PUT", path: "/level/3?now", body: '{"value": 0.5}', contentType: "application/json" },
    ],
    ["POST /say Foghorn Waltz", { method: "POST", path: "/say", body: "Foghorn Waltz", contentType: "text/plain" }],
    ["POST /list [1,2]", { method: "POST", path: "/list", body: "[1,2]", contentType: "application/json" }],
  ])("%s", (line, request) => expect(requestOf(line)).toEqual(request));

  test.each(["", "GET", "GET state", "get /state", "TRACE /state", "GET http://elsewhere/", "level 3"])(
    "no request: “%s”",
    (line) => expect(requestOf(line)).toBeNull(),
  );

  test("an answer is one line, whatever is in it", () => {
    expect(answerLine(200, '{\n  "value": 0.5\r\n}\n')).toBe('200 { "value": 0.5 }');
    expect(answerLine(204, "")).toBe("204");
    fc.assert(
      fc.property(fc.string(), (body) => {
        expect(answerLine(200, body)).not.toMatch(/[\r\n]/);
      }),
    );
  });
});

describe("a line as an MQTT message", () => {
  test.each([
    ["stage/lights/3 0.5", { topic: "stage/lights/3", payload: "0.5", retain: false }],
    ["retained stage/cue Foghorn Waltz", { topic: "stage/cue", payload: "Foghorn Waltz", retain: true }],
    ["stage/go", { topic: "stage/go", payload: "", retain: false }],
  ])("%s", (line, message) => expect(topicMessageOf(line)).toEqual(message));

  test.each(["", " x", "stage/# 1", "stage/+/level 1", "retained ", "a\0b 1"])("no message: “%s”", (line) =>
    expect(topicMessageOf(line)).toBeNull(),
  );

  test("what comes is the line that would have said it, on one line", () => {
    expect(topicLine("stage/cue", "Foghorn\nWaltz")).toBe("stage/cue Foghorn Waltz");
    const word = fc.stringMatching(/^[a-z][a-z0-9/]{0,20}$/);
    fc.assert(
      fc.property(word, fc.stringMatching(/^[ -~]{0,30}$/), (topic, payload) => {
        expect(topicMessageOf(topicLine(topic, payload))).toEqual({ topic, payload, retain: false });
      }),
    );
  });

  test("a desk is heard at the topics of its patterns, with a wildcard for every level that has a name", () => {
    const profile: DeskProfile = {
      ...shippedProfiles().desks.find((d) => d.id === "spyglass-vision")!,
      states: [
        { id: "a", name: "A", parameters: [], value: { kind: "text" }, heard: { line: "stage/cue {value}" } },
        {
          id: "b",
          name: "B",
          parameters: ["n"],
          value: { kind: "text" },
          heard: { line: "stage/ch{n}/level {value}" },
        },
        {
          id: "c",
          name: "C",
          parameters: ["n"],
          value: { kind: "text" },
          heard: { line: "stage/ch{n}/level {any} {value}" },
        },
        { id: "d", name: "D", parameters: [], value: { kind: "text" } },
      ],
      heartbeat: {
        send: [{ line: "stage/ping {pulse}" }],
        everyMs: 1000,
        silentAfterMs: 3000,
        heard: { line: "stage/pong {pulse}" },
      },
      replies: { done: "stage/done", refused: "stage/no {any}" },
    };
    expect(topicsOf(profile)).toEqual(["stage/+/level", "stage/cue", "stage/done", "stage/no", "stage/pong"]);
  });
});
