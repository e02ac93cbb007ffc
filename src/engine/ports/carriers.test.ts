/** What carries lines beside plain connections: HTTP, MQTT, and connections that the desk opens. */
import { once } from "node:events";
import { createServer, type IncomingMessage, type Server } from "node:http";
import { createConnection, createServer as createTcpServer, type Socket } from "node:net";
import { afterEach, describe, expect, test, vi } from "vitest";
import { Broker } from "../../../tests/rig/broker.ts";
import { findMosquitto } from "../../../tools/test-programs.mjs";
import type { Login } from "../../core/format/show.ts";
import { LineFraming } from "../../core/stream/line-framing.ts";
import { troubleWords } from "../../words/troubles.ts";
import { HttpPort } from "./http.ts";
import { MqttPort } from "./mqtt.ts";
import type { Port, PortEvents } from "./port.ts";
import { TcpServerPort } from "./tcp-server.ts";

const HOST = "127.0.0.1";
const PORTS = { http: 19_640, mqtt: 19_641, server: 19_642 };
const closing: (() => unknown)[] = [];

afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});

function line(port: Port, text: string): void {
  const bytes = new TextEncoder().encode(text);
  port.send(bytes, 0, bytes.length);
}

/** A port with what it told. */
function opened(make: (events: PortEvents) => Port) {
  const heard: string[] = [];
  const states: string[] = [];
  const port = make({
    message: (b) => heard.push(new TextDecoder().decode(b)),
    refused: () => states.push("refused"),
    state: (s) => states.push(s.trouble ? `${s.state}: ${troubleWords(s.trouble)}` : s.state),
  });
  port.open();
  closing.push(() => port.close());
  return { port, heard, states };
}

describe("HTTP", () => {
  const address = { host: HOST, port: PORTS.http, headers: { "x-key": "lantern" }, timeoutMs: 400 };
  const open = () => opened((events) => new HttpPort(address, events));

  async function served(answer: (request: IncomingMessage, body: string) => [number, string] | null): Promise<Server> {
    const server = createServer(async (request, response) => {
      let body = "";
      for await (const piece of request) body += String(piece);
      const given = answer(request, body);
      if (given) response.writeHead(given[0]).end(given[1]);
    });
    server.listen(PORTS.http, HOST);
    await once(server, "listening");
    closing.push(() => {
      server.closeAllConnections();
      server.close();
    });
    return server;
  }

  test("a line is a request with its header fields; the answer is a line; one waits for the other", async () => {
    const asked: string[] = [];
    let inside = 0;
    let most = 0;
    await served((request, body) => {
      most = Math.max(most, ++inside);
      asked.push(
        `${request.method} ${request.url} ${request.headers["x-key"]} ${request.headers["content-type"]} ${body}`,
      );
      inside--;
      return [200, `{ "n": ${asked.length} }`];
    });
    const a = open();
    const b = open();
    line(a.port, 'PUT /level/3 {"value":0.5}');
    line(b.port, "GET /state");
    line(a.port, "POST /say Foghorn");
    await vi.waitFor(() => expect(a.heard).toEqual(['200 { "n": 1 }', '200 { "n": 3 }']));
    expect(b.heard).toEqual(['200 { "n": 2 }']);
    expect(most).toBe(1);
    expect(asked).toEqual([
      'PUT /level/3 lantern application/json {"value":0.5}',
      "GET /state lantern undefined ",
      "POST /say lantern text/plain Foghorn",
    ]);
    line(a.port, "no request");
    expect(a.port.counted).toMatchObject({ in: 2, out: 2, dropped: 1, refused: 0 });
  });

  test("nobody there, no answer in time, and there again: each is told", async () => {
    const { port, heard, states } = open();
    line(port, "GET /a");
    await vi.waitFor(() =>
      expect(states.slice(2)).toEqual(["refused", `failed: nobody listens on port ${PORTS.http} there`]),
    );
    await served((request) => (request.url === "/slow" ? null : [204, ""]));
    line(port, "GET /slow");
    line(port, "GET /b");
    await vi.waitFor(() => expect(states.slice(4)).toEqual(["failed: it does not answer in time", "open"]));
    expect(heard).toEqual(["204"]);
    expect(port.counted).toMatchObject({ out: 3, refused: 2 });
  });

  test("a host that asks who we are is told; one that says no is told of, and tried again", async () => {
    const login = { user: "bridge", password: "lantern: ä" };
    const asked: (string | undefined)[] = [];
    let known = false;
    await served((request) => {
      asked.push(request.headers.authorization);
      return known ? [200, "ok"] : [401, "who?"];
    });
    const { port, heard, states } = opened((events) => new HttpPort({ ...address, login }, events));
    line(port, "GET /state");
    await vi.waitFor(() => expect(states.at(-1)).toBe(`failed: ${troubleWords({ code: "not-let-in" })}`));
    known = true;
    line(port, "GET /state");
    await vi.waitFor(() => expect(states.at(-1)).toBe("open"));
    expect([heard, asked[0]]).toEqual([["401 who?", "200 ok"], "Basic YnJpZGdlOmxhbnRlcm46IMOk"]);
    const own = { ...address, headers: { Authorization: "Bearer moon" }, login };
    const other = opened((events) => new HttpPort(own, events));
    line(other.port, "GET /state");
    await vi.waitFor(() => expect(asked.at(-1)).toBe("Bearer moon"));
  });

  test("an answer without end is not read to its end; closing ends what is under way", async () => {
    await served((request) => (request.url === "/long" ? [200, "x".repeat(100_000)] : null));
    const { port, heard, states } = open();
    line(port, "GET /long");
    await vi.waitFor(() => expect(states.at(-1)).toBe("failed: its answer is too long"));
    line(port, "GET /slow");
    await port.close();
    line(port, "GET /b");
    expect(heard).toEqual([]);
    expect(states.at(-1)).toBe("failed: its answer is too long");
  });
});

describe.runIf(findMosquitto())("MQTT", () => {
  const open = (version: "3.1.1" | "5", will = "", topics = ["stage/+"]) =>
    opened((events) => new MqttPort({ host: HOST, port: PORTS.mqtt, version, topics, will }, events));

  async function broker(login?: Login): Promise<Broker> {
    const own = new Broker(PORTS.mqtt, login);
    closing.push(async () => {
      await own.stop();
      own.clean();
    });
    await own.start();
    return own;
  }

  test("what one computer says, another hears, of either version; what is retained, also who comes later", async () => {
    await broker();
    const a = open("3.1.1");
    const b = open("5");
    await vi.waitFor(() => expect([a.states.at(-1), b.states.at(-1)]).toEqual(["open", "open"]), 5000);
    line(a.port, "stage/cue Foghorn Waltz");
    line(b.port, "retained stage/page 3");
    line(b.port, "elsewhere/page 4");
    await vi.waitFor(() => expect(a.heard).toEqual(["stage/cue Foghorn Waltz", "stage/page 3"]));
    const late = open("5");
    await vi.waitFor(() => expect(late.heard).toEqual(["stage/page 3"]), 5000);
    line(a.port, "stage/# 1");
    expect(a.port.counted).toMatchObject({ in: 2, out: 1, dropped: 1 });
  });

  test.each(["3.1.1", "5"] as const)("a broker that asks who we are lets in who it knows (%s)", async (version) => {
    const login = { user: "bridge", password: "lantern: ä" };
    await broker(login);
    const address = { host: HOST, port: PORTS.mqtt, version, topics: ["stage/+"], will: "" };
    const known = opened((events) => new MqttPort({ ...address, login }, events));
    const unknown = opened((events) => new MqttPort(address, events));
    const wrong = opened((events) => new MqttPort({ ...address, login: { ...login, password: "x" } }, events));
    await vi.waitFor(() => expect(known.states.at(-1)).toBe("open"), 5000);
    for (const { states } of [unknown, wrong])
      await vi.waitFor(() => expect(states).toContain(`failed: ${troubleWords({ code: "not-let-in" })}`), 5000);
    line(known.port, "stage/cue 1");
    await vi.waitFor(() => expect(known.heard).toEqual(["stage/cue 1"]));
    expect([...unknown.states, ...wrong.states]).not.toContain("open");
  });

  test("the last will is said for one that is cut off, and not for one that leaves", async () => {
    await broker();
    const watching = open("3.1.1");
    const leaving = open("5", "stage/there 0");
    await vi.waitFor(() => expect([watching.states.at(-1), leaving.states.at(-1)]).toEqual(["open", "open"]), 5000);
    await leaving.port.close();
    // Somebody whose cable is pulled out: its words go through a hand that lets go.
    let through: Socket | null = null;
    const hand = createTcpServer((socket) => {
      through = socket;
      const broker = createConnection(PORTS.mqtt, HOST);
      socket.pipe(broker).pipe(socket);
      socket.on("close", () => broker.destroy());
      for (const s of [socket, broker]) s.on("error", () => {});
    }).listen(PORTS.server, HOST);
    await once(hand, "listening");
    const address = { host: HOST, port: PORTS.server, version: "5" as const, topics: [], will: "stage/gone 1" };
    const cut = opened((events) => new MqttPort({ ...address, topics: ["stage/x"] }, events));
    await vi.waitFor(() => expect(cut.states.at(-1)).toBe("open"), 5000);
    hand.close();
    through!.destroy();
    await vi.waitFor(() => expect(watching.heard).toEqual(["stage/gone 1"]), 5000);
    await cut.port.close();
  });

  test("a broker that is not there, comes, goes and comes again", async () => {
    const a = open("3.1.1");
    await vi.waitFor(() => expect(a.states).toContain(`failed: no broker listens on port ${PORTS.mqtt} there`), 5000);
    line(a.port, "stage/cue 1");
    expect(a.port.counted).toMatchObject({ out: 0 });
    const own = await broker();
    await vi.waitFor(() => expect(a.states.at(-1)).toBe("open"), 15_000);
    await own.stop();
    await vi.waitFor(() => expect(a.states).toContain("waiting: the broker closed the connection"), 5000);
    await own.start();
    await vi.waitFor(() => expect(a.states.at(-1)).toBe("open"), 15_000);
    line(a.port, "stage/cue 2");
    await vi.waitFor(() => expect(a.heard).toEqual(["stage/cue 2"]));
  }, 40_000);
});

describe("lines over connections that desks open", () => {
  const open = () =>
    opened((events) => new TcpServerPort({ host: HOST, port: PORTS.server }, () => new LineFraming("crlf"), events));

  async function calling(): Promise<{ socket: Socket; said: () => string }> {
    const socket = createConnection(PORTS.server, HOST);
    let said = "";
    socket.on("data", (piece) => {
      said += String(piece);
    });
    await once(socket, "connect");
    closing.push(() => socket.destroy());
    return { socket, said: () => said };
  }

  test("each is heard by itself, all are told, and who goes is told of", async () => {
    const { port, heard, states } = open();
    await vi.waitFor(() => expect(states.at(-1)).toBe(`waiting: nobody has connected to port ${PORTS.server} yet`));
    line(port, "too early");
    const a = await calling();
    const b = await calling();
    a.socket.write("cue ");
    b.socket.write("page 3\r\n");
    await vi.waitFor(() => expect(heard).toEqual(["page 3"]));
    a.socket.write("5\n");
    await vi.waitFor(() => expect(heard).toEqual(["page 3", "cue 5"]));
    expect(states.at(-1)).toBe("open");
    line(port, "go");
    await vi.waitFor(() => expect([a.said(), b.said()]).toEqual(["go\r\n", "go\r\n"]));
    a.socket.destroy();
    b.socket.destroy();
    await vi.waitFor(() => expect(states.at(-1)).toContain("nobody has connected"));
    expect(port.counted).toMatchObject({ in: 2, out: 1, refused: 1 });
  });

  test("only the desk's own address is let in", async () => {
    const { heard, states, port } = opened(
      (events) =>
        new TcpServerPort({ host: HOST, port: PORTS.server, from: "127.0.0.2" }, () => new LineFraming("lf"), events),
    );
    await vi.waitFor(() => expect(states.at(-1)).toContain("nobody has connected"));
    const stranger = await calling();
    await once(stranger.socket, "close");
    expect([port.counted.refused, states.at(-1)]).toEqual([
      1,
      `waiting: nobody has connected to port ${PORTS.server} yet`,
    ]);
    const desk = createConnection({ host: HOST, port: PORTS.server, localAddress: "127.0.0.2" });
    closing.push(() => desk.destroy());
    desk.write("cue 5\n");
    await vi.waitFor(() => expect(heard).toEqual(["cue 5"]));
  });

  test("a port in use is said, and opened once it is free", async () => {
    const taken = createTcpServer().listen(PORTS.server, HOST);
    await once(taken, "listening");
    const { states } = open();
    await vi.waitFor(() => expect(states.at(-1)).toBe(`failed: port ${PORTS.server} is already used on this computer`));
    taken.close();
    await vi.waitFor(() => expect(states.at(-1)).toContain("nobody has connected"), 5000);
  });
});
