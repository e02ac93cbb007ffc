import { describe, expect, test } from "vitest";
import { Finder } from "./finder.ts";
import {
  ALL_SERVICES,
  instanceLabel,
  instanceName,
  type MdnsRecord,
  type Message,
  numbered,
  SERVICE,
} from "./messages.ts";
import { Publisher, type Service } from "./publisher.ts";

const quay: Service = { name: "Quay", port: 5004 };

/** Publishers and finders on one network, on a clock of their own. */
class Network {
  nowMs = 0;
  readonly ends: { publisher: Publisher; address: string; renames: string[] }[] = [];
  readonly finders: Finder[] = [];
  readonly said: { from: string; message: Message }[] = [];

  join(address: string, services: Service[], host = "box", chance = 0): Publisher {
    const renames: string[] = [];
    const publisher = new Publisher(services, host, chance, this.nowMs, (from, to) => renames.push(`${from} -> ${to}`));
    publisher.knows([address]);
    this.ends.push({ publisher, address, renames });
    return publisher;
  }

  say(from: string, message: Message): void {
    this.said.push({ from, message });
    for (const finder of this.finders) finder.receive(message, from, this.nowMs);
    // Whoever says something hears it too: multicast comes back.
    for (const { publisher, address } of this.ends)
      for (const spoken of publisher.receive(message, [address], false, this.nowMs)) this.say(address, spoken.message);
  }

  ask(question: { name: string; type: string }, known: MdnsRecord[] = []): Message[] {
    this.said.length = 0;
    this.say("asker", { isResponse: false, questions: [question], answers: known, authorities: [], additionals: [] });
    return this.said.slice(1).map((s) => s.message);
  }

  run(ms: number): void {
    for (const end = this.nowMs + ms; this.nowMs < end; ) {
      this.nowMs += 10;
      for (const { publisher, address } of [...this.ends])
        for (const make of publisher.tick(this.nowMs)) this.say(address, make([address]));
      for (const finder of this.finders) {
        const question = finder.tick(this.nowMs);
        if (question) this.say("finder", question);
      }
    }
  }

  find(): Finder {
    const finder = new Finder(this.nowMs);
    this.finders.push(finder);
    return finder;
  }
}

const kinds = (m: Message) => m.answers.map((r) => r.type);

describe("names", () => {
  test.each(["Quay", "Quay v1.2", "a\\b.c", ".", "Prompt corner (2)"])(
    "“%s” is a label, whatever stands in it",
    (label) => {
      expect(instanceLabel(instanceName(label))).toBe(label);
    },
  );
  test("a name with a number stays within its 63 bytes, and keeps its letters whole", () => {
    expect(numbered("Quay", 2, "words")).toBe("Quay (2)");
    expect(numbered("box", 3, "host")).toBe("box-3");
    const long = numbered("ä".repeat(40), 12, "words");
    expect([new TextEncoder().encode(long).length <= 63, long.endsWith("ä (12)")]).toEqual([true, true]);
  });
});

describe("owning a name (RFC 6762, 8)", () => {
  test("three probes a quarter of a second apart with what the names are to be, then two announcements", () => {
    const net = new Network();
    net.join("10.0.0.1", [quay]);
    net.run(3000);
    const own = net.said.filter((s) => s.from === "10.0.0.1").map((s) => s.message);
    expect(own.map((m) => (m.isResponse ? "announces" : "probes"))).toEqual([
      ...["probes", "probes", "probes", "announces", "announces"],
    ]);
    expect(own[0]!.questions.map((q) => q.type)).toEqual(["ANY", "ANY"]);
    expect(own[0]!.authorities.map((r) => [r.type, r.isUnique])).toEqual([
      ["SRV", false],
      ["TXT", false],
      ["A", false],
    ]);
    // Unique records are marked to replace what was known before (10.2), shared ones are not.
    expect(own[3]!.answers.map((r) => [r.type, r.isUnique])).toEqual([
      ["PTR", false],
      ["PTR", false],
      ["SRV", true],
      ["TXT", true],
      ["A", true],
    ]);
  });
  test("a name that another has is not taken: the next one is, and that is told", () => {
    const net = new Network();
    net.join("10.0.0.1", [quay]);
    net.run(3000);
    const second = net.join("10.0.0.2", [{ name: "quay", port: 5006 }], "other");
    net.run(5000);
    expect([second.labels, net.ends[1]!.renames, net.ends[0]!.renames]).toEqual([
      ["quay (2)"],
      ["quay -> quay (2)"],
      [],
    ]);
    const third = net.join("10.0.0.3", [quay], "third");
    net.run(5000);
    expect(third.labels).toEqual(["Quay (3)"]);
  });
  test("a computer's name as well", () => {
    const net = new Network();
    net.join("10.0.0.1", [quay], "box");
    net.run(3000);
    net.join("10.0.0.2", [{ name: "Bridge", port: 5004 }], "box");
    net.run(5000);
    const [answer] = net.ask({ name: "box-2.local", type: "A" });
    expect(answer!.answers).toMatchObject([{ type: "A", data: "10.0.0.2" }]);
  });
  test("of two that probe at the same moment exactly one has the name", () => {
    for (const [a, b] of [
      [5004, 5006],
      [5006, 5004],
    ] as const) {
      const net = new Network();
      net.join("10.0.0.1", [{ name: "Quay", port: a }], "one");
      net.join("10.0.0.2", [{ name: "Quay", port: b }], "two");
      net.run(6000);
      expect(net.ends.map((e) => e.publisher.labels[0]).sort()).toEqual(["Quay", "Quay (2)"]);
    }
  });
  test("two networks that are joined later: one of the two gives way", () => {
    const [one, two] = [new Network(), new Network()];
    one.join("10.0.0.1", [quay], "one");
    two.join("10.0.0.2", [{ name: "Quay", port: 5006 }], "two");
    one.run(3000);
    two.run(3000);
    one.ends.push(...two.ends);
    one.ask({ name: instanceName("Quay"), type: "SRV" });
    one.run(8000);
    const labels = one.ends.map((e) => e.publisher.labels[0]);
    expect(new Set(labels).size).toBe(2);
  });
});

describe("answering for it (RFC 6762, 6)", () => {
  const there = () => {
    const net = new Network();
    net.join("10.0.0.1", [quay, { name: "Bridge 1.5", port: 5010 }]);
    net.run(4000);
    return net;
  };
  test("where the service is asked for, its instances come, with all that is needed to reach them", () => {
    const [answer] = there().ask({ name: SERVICE, type: "PTR" });
    expect(answer!.answers.map((r) => r.data)).toEqual([instanceName("Quay"), instanceName("Bridge 1.5")]);
    expect(answer!.additionals.map((r) => r.type).sort()).toEqual(["A", "SRV", "SRV", "TXT", "TXT"]);
    expect(answer!.additionals.find((r) => r.type === "SRV")!.data).toEqual({ port: 5004, target: "box.local" });
  });
  test.each<[string, string, string[]]>([
    [instanceName("quay"), "SRV", ["SRV"]],
    [instanceName("Quay"), "ANY", ["SRV", "TXT"]],
    ["BOX.local", "A", ["A"]],
    ["box.local", "AAAA", ["NSEC"]],
    [ALL_SERVICES, "PTR", ["PTR"]],
  ])("%s, %s", (name, type, wanted) => expect(kinds(there().ask({ name, type })[0]!)).toEqual(wanted));
  test("of a name that is somebody else's nothing is said", () => {
    expect(there().ask({ name: "else.local", type: "A" })).toEqual([]);
    expect(there().ask({ name: "_http._tcp.local", type: "PTR" })).toEqual([]);
  });
  test("what the asker knows already is not said again, while it is fresh (7.1)", () => {
    const known = (ttl: number): MdnsRecord => ({
      type: "PTR",
      name: SERVICE,
      data: instanceName("Quay"),
      ttl,
      isUnique: false,
    });
    expect(
      there()
        .ask({ name: SERVICE, type: "PTR" }, [known(4000)])[0]!
        .answers.map((r) => r.data),
    ).toEqual([instanceName("Bridge 1.5")]);
    expect(there().ask({ name: SERVICE, type: "PTR" }, [known(100)])[0]!.answers).toHaveLength(2);
  });
  test("the same is not said to all twice within a second", () => {
    const net = there();
    expect(net.ask({ name: SERVICE, type: "PTR" })).toHaveLength(1);
    expect(net.ask({ name: SERVICE, type: "PTR" })).toHaveLength(0);
    net.run(1100);
    expect(net.ask({ name: SERVICE, type: "PTR" })).toHaveLength(1);
  });
  test("an ordinary resolver is answered to itself, with its question and number, for ten seconds (6.7)", () => {
    const net = there();
    const query = {
      isResponse: false,
      id: 77,
      questions: [{ name: "box.local", type: "A" }],
      answers: [],
      authorities: [],
      additionals: [],
    };
    const [spoken] = net.ends[0]!.publisher.receive(query, ["10.0.0.1"], true, net.nowMs);
    expect(spoken).toMatchObject({ isUnicast: true, message: { id: 77, questions: query.questions } });
    expect(spoken!.message.answers).toMatchObject([{ type: "A", ttl: 10, isUnique: false }]);
  });
  test("good-bye is said of one's own, and not of the type of service that others have too", () => {
    const message = there().ends[0]!.publisher.goodbye(["10.0.0.1"])!;
    expect(message.answers.every((r) => r.ttl === 0)).toBe(true);
    expect(message.answers.some((r) => r.name === ALL_SERVICES)).toBe(false);
    expect(kinds(message)).toEqual(["PTR", "SRV", "TXT", "PTR", "SRV", "TXT", "A"]);
  });
  test("what two on one computer share is announced again when one of them goes", () => {
    const net = new Network();
    net.join("10.0.0.1", [quay]);
    net.join("10.0.0.1", [{ name: "Bridge", port: 5010 }]);
    const finder = net.find();
    net.run(4000);
    const [gone] = net.ends.splice(0, 1);
    net.said.length = 0;
    net.say("10.0.0.1", gone!.publisher.goodbye(["10.0.0.1"])!);
    net.run(1500);
    expect(net.said.at(-1)!.message.answers).toContainEqual(
      expect.objectContaining({ type: "A", data: "10.0.0.1", ttl: 120 }),
    );
    expect(finder.found([]).map((f) => f.name)).toEqual(["Bridge"]);
  });
  test("before a name is one's own nothing is answered for it, and no good-bye said", () => {
    const net = new Network();
    const publisher = net.join("10.0.0.1", [quay]);
    expect(net.ask({ name: SERVICE, type: "PTR" })).toEqual([]);
    expect(publisher.goodbye(["10.0.0.1"])).toBeNull();
  });
});

describe("finding others", () => {
  test("they are found by where their word came from, and gone a second after their good-bye", () => {
    const net = new Network();
    net.join("10.0.0.1", [{ name: "Bridge 1.5", port: 5010 }]);
    const finder = net.find();
    net.run(3000);
    expect(finder.found([])).toEqual([{ name: "Bridge 1.5", host: "10.0.0.1", port: 5010 }]);
    net.say("10.0.0.1", net.ends[0]!.publisher.goodbye(["10.0.0.1"])!);
    net.ends.length = 0;
    net.run(1500);
    expect(finder.found([])).toEqual([]);
  });
  test("one's own is never found, by whatever name it goes now", () => {
    const net = new Network();
    net.join("10.0.0.9", [quay], "first");
    net.run(3000);
    const own = net.join("10.0.0.1", [{ name: "Quay", port: 5010 }], "mine");
    const finder = net.find();
    net.run(6000);
    expect(finder.found(own.labels)).toEqual([{ name: "Quay", host: "10.0.0.9", port: 5004 }]);
  });
  test("one that said where it is only later is asked for it", () => {
    const net = new Network();
    const finder = net.find();
    const answers: MdnsRecord[] = [
      { type: "PTR", name: SERVICE, data: instanceName("Far"), ttl: 100, isUnique: false },
    ];
    net.say("10.0.0.3", { isResponse: true, questions: [], answers, authorities: [], additionals: [] });
    expect(finder.found([])).toEqual([]);
    net.run(100);
    expect(net.said.at(-1)!.message.questions).toContainEqual({ name: instanceName("Far").toLowerCase(), type: "SRV" });
  });
  test("a network full of them is no harm: 256 are kept", () => {
    const finder = new Finder(0);
    for (let n = 0; n < 2000; n++) {
      const name = instanceName(`S${n}`);
      const answers: MdnsRecord[] = [
        { type: "PTR", name: SERVICE, data: name, ttl: 100, isUnique: false },
        { type: "SRV", name, data: { port: 5004, target: `h${n}.local` }, ttl: 100, isUnique: true },
        { type: "A", name: `h${n}.local`, data: "10.0.0.1", ttl: 100, isUnique: true },
      ];
      finder.receive({ isResponse: true, questions: [], answers, authorities: [], additionals: [] }, "10.0.0.1", 0);
    }
    expect(finder.found([])).toHaveLength(256);
  });
  test("one that is not heard of any more is over with its time", () => {
    const finder = new Finder(0);
    const name = instanceName("Short");
    const answers: MdnsRecord[] = [
      { type: "PTR", name: SERVICE, data: name, ttl: 5, isUnique: false },
      { type: "SRV", name, data: { port: 5004, target: "h.local" }, ttl: 5, isUnique: true },
    ];
    finder.receive({ isResponse: true, questions: [], answers, authorities: [], additionals: [] }, "10.0.0.1", 0);
    finder.tick(4000);
    expect(finder.found([])).toHaveLength(1);
    finder.tick(5001);
    expect(finder.found([])).toEqual([]);
  });
});
