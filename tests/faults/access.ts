/** People who were not let in: a program that others could reach without a passcode, strangers at every address, guesses. */
import { request } from "node:http";
import { WebSocket } from "ws";
import { ENDPOINTS } from "../../src/server/access/endpoints.ts";
import { fromElsewhere } from "../rig/elsewhere.ts";
import { Program, SceneBroken } from "./program.ts";
import type { Scene } from "./scenes.ts";

const WEB_PORT = 23_140;
const FLAGS = ["--host", "0.0.0.0"];
const PASSCODE = "lanterns on the water";
const GUESSES = 60;

/** Status of a request with a host of one's own, which fetch does not let one say. */
function statusFor(port: number, host: string): Promise<number> {
  return new Promise((resolve, reject) => {
    request({ host: "127.0.0.1", port, path: "/health", headers: { host } }, (answer) => {
      answer.resume();
      resolve(answer.statusCode ?? 0);
    })
      .on("error", reject)
      .end();
  });
}

const strangers: Scene = {
  name: "strangers",
  isShort: true,
  limitMs: 60_000,
  run: async () => {
    const program = new Program(WEB_PORT);
    try {
      const told = await program.start({ flags: FLAGS }).then(
        () => "it started",
        (error: unknown) => (error instanceof SceneBroken ? error.message : String(error)),
      );
      const code = await program.exited();
      const asks = told.includes("VELVET_PASSCODE");

      await program.start({ flags: FLAGS, env: { VELVET_PASSCODE: PASSCODE } });
      const elsewhere = await fromElsewhere(WEB_PORT);
      const answered: string[] = [];
      let asked = 0;
      for (const [path, by] of Object.entries(ENDPOINTS))
        for (const [method, needs] of Object.entries(by)) {
          if (needs === "anyone" || method === "UPGRADE") continue;
          asked++;
          const body = method === "GET" ? {} : { body: "{}", headers: { "content-type": "application/json" } };
          const answer = await fetch(elsewhere.url + path.replace("[place]", "map"), {
            method,
            redirect: "manual",
            ...body,
          });
          if (answer.status !== 401) answered.push(`${method} ${path}: ${answer.status}`);
        }
      const opened = await new Promise<boolean>((resolve) => {
        const socket = new WebSocket(`${elsewhere.url.replace("http", "ws")}/live`, { origin: elsewhere.url });
        socket.once("open", () => resolve(true)).once("error", () => resolve(false));
      });
      if (opened) answered.push("the live socket");

      const forged = await statusFor(WEB_PORT, `0.0.0.0:${WEB_PORT}`);
      const own = await statusFor(WEB_PORT, `localhost:${WEB_PORT}`);

      const enter = (passcode: string) =>
        fetch(`${elsewhere.url}/api/enter`, {
          method: "POST",
          headers: { "content-type": "application/json" },
          body: JSON.stringify({ passcode, device: "" }),
        });
      let looked = 0;
      for (let i = 0; i < GUESSES; i++) if ((await enter(`a guess number ${i}`)).status === 401) looked++;
      const afterwards = (await enter(PASSCODE)).status;
      await elsewhere.close();
      return [
        {
          scene: "a start for others to reach, without a passcode",
          figure: `exit code ${code}, ${asks ? "says how to give one" : told.slice(0, 80)}`,
          wanted: "exit code 1, says how to give one",
          ok: code === 1 && asks,
        },
        {
          scene: `a stranger at ${asked} addresses and at the live socket`,
          figure: `${answered.length} let in ${answered.slice(0, 3).join(", ")}`.trim(),
          wanted: "0",
          ok: answered.length === 0 && asked > 10,
        },
        {
          scene: "a forged name, and one of its own",
          figure: `${forged}, ${own}`,
          wanted: "403, 200",
          ok: forged === 403 && own === 200,
        },
        {
          scene: `${GUESSES} guesses of a passcode`,
          figure: `${looked} looked at; the right one behind them: ${afterwards}`,
          wanted: "5 at most, 429",
          ok: looked <= 5 && afterwards === 429,
        },
      ];
    } finally {
      await program.end();
    }
  },
};

export const ACCESS: readonly Scene[] = [strangers];
