/** The disk: two programs with one folder, a file that is damaged, a disk that is full, kills among edits. */
import { execFileSync, spawnSync } from "node:child_process";
import { existsSync, mkdirSync, readdirSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { Program, until } from "./program.ts";
import type { Result, Scene } from "./scenes.ts";

const WEB_PORT = 23_120;
const OTHER_PORT = 23_121;
const DATABASE = "velvet-hinge.sqlite";

const nameOf = async (program: Program) =>
  ((await (await fetch(`${program.url}/api/show`)).json()) as { name: string }).name;
const rename = (program: Program, name: string) => program.post("/api/edit", { kind: "rename-show", name });

async function on(program: Program, work: () => Promise<Result[]>): Promise<Result[]> {
  try {
    return await work();
  } finally {
    await program.end();
  }
}

const twoPrograms: Scene = {
  name: "two programs",
  isShort: true,
  limitMs: 30_000,
  run: async () => {
    const program = new Program(WEB_PORT);
    return on(program, async () => {
      await program.start();
      const main = join(import.meta.dirname, "main.mjs");
      const second = spawnSync(process.execPath, [main, "--port", String(OTHER_PORT), "--data", program.data], {
        encoding: "utf8",
        timeout: 20_000,
      });
      const says =
        second.stderr.includes(`port ${WEB_PORT}`) && second.stderr.includes(`process ${await program.pid()}`);
      const mode = (path: string) => (statSync(path).mode & 0o777).toString(8);
      const files = readdirSync(program.data).filter((f) => statSync(join(program.data, f)).isFile());
      const open = files.filter((f) => mode(join(program.data, f)) !== "600");
      return [
        {
          scene: "a second program on one data folder",
          figure: `exit code ${second.status}, ${says ? "says who has it" : "does not say who has it"}`,
          wanted: "exit code 1, says who has it",
          ok: second.status === 1 && says,
        },
        {
          scene: "who may read the data",
          figure: `folder ${mode(program.data)}, ${open.length} of ${files.length} files open to others`,
          wanted: "folder 700, 0 open",
          ok: mode(program.data) === "700" && open.length === 0,
        },
      ];
    });
  },
};

const damaged: Scene = {
  name: "a damaged database",
  isShort: true,
  limitMs: 60_000,
  run: async () => {
    const program = new Program(WEB_PORT);
    return on(program, async () => {
      await program.start();
      await rename(program, "Good");
      program.signal("SIGTERM");
      await program.exited();
      await program.start(); // makes a backup of what was edited
      await until(
        () => existsSync(join(program.data, "backups")) && readdirSync(join(program.data, "backups")).length >= 2,
      );
      program.signal("SIGTERM");
      await program.exited();
      writeFileSync(join(program.data, DATABASE), "this is no database ".repeat(500));
      await program.start();
      const kept = readdirSync(program.data).some((f) => f.includes("damaged"));
      const name = await nameOf(program);
      return [
        {
          scene: "a database that is damaged at the start",
          figure: `opens “${name}”, the damaged one is ${kept ? "kept" : "gone"}`,
          wanted: "opens “Good”, kept",
          ok: name === "Good" && kept,
        },
      ];
    });
  },
};

/** A disk of 3 MB, where this may be made. */
const full: Scene = {
  name: "a full disk",
  isShort: false,
  limitMs: 60_000,
  run: async () => {
    if (process.getuid?.() !== 0) return [];
    const program = new Program(WEB_PORT);
    const disk = program.data;
    mkdirSync(disk, { recursive: true });
    execFileSync("mount", ["-t", "tmpfs", "-o", "size=3m", "tmpfs", disk]);
    try {
      return await on(program, async () => {
        await program.start();
        await rename(program, "Before");
        writeFileSync(join(disk, "filler"), Buffer.alloc(1), { flag: "a" });
        spawnSync("dd", ["if=/dev/zero", `of=${join(disk, "filler")}`, "bs=4k", "count=2000"]);
        let answer: { ok: boolean; problems?: string[] } = { ok: true };
        for (let n = 0; n < 50 && answer.ok; n++)
          answer = (await (await rename(program, `After ${n} ${"x".repeat(40)}`)).json()) as typeof answer;
        const sentence = answer.problems?.[0] ?? "";
        const before = await nameOf(program);
        execFileSync("rm", [join(disk, "filler")]);
        const again = ((await (await rename(program, "Room again")).json()) as { ok: boolean }).ok;
        program.signal("SIGTERM");
        await program.exited();
        for (const bs of ["4k", "64"])
          spawnSync("dd", ["if=/dev/zero", `of=${join(disk, `filler-${bs}`)}`, `bs=${bs}`, "count=4000"]);
        const main = join(import.meta.dirname, "main.mjs");
        const start = spawnSync(process.execPath, [main, "--port", String(WEB_PORT), "--data", disk], {
          encoding: "utf8",
          timeout: 20_000,
        });
        const moved = readdirSync(disk).some((f) => f.includes("damaged"));
        for (const bs of ["4k", "64"]) execFileSync("rm", [join(disk, `filler-${bs}`)]);
        await program.start();
        const found = await nameOf(program);
        const says = start.stderr.trim().split("\n")[0] ?? "";
        return [
          {
            scene: "a start on a full disk, and one with room again",
            figure: `exit code ${start.status}, “${says.slice(0, 60)}”; then opens “${found}”`,
            wanted: "exit code 1 and a sentence, nothing moved; then opens “Room again”",
            ok: start.status === 1 && says.includes("is full") && !moved && found === "Room again",
          },
          {
            scene: "edits on a full disk",
            figure: `${answer.ok ? "taken" : `refused: ${sentence.slice(0, 90)}`}; with room again ${again ? "taken" : "refused"}`,
            wanted: "refused with “the disk is full”, the show untouched, then taken",
            ok: !answer.ok && sentence.includes("the disk is full") && before.length > 0 && again,
          },
        ];
      });
    } finally {
      spawnSync("umount", [disk]);
    }
  },
};

/** Kills the server at moments among edits; what it has acknowledged must be there. */
const kills: Scene = {
  name: "kills among edits",
  isShort: false,
  limitMs: 180_000,
  run: async () => {
    const program = new Program(WEB_PORT);
    return on(program, async () => {
      let acknowledged = 0;
      let lost = 0;
      for (let round = 0; round < 12; round++) {
        await program.start();
        let newest = await nameOf(program);
        const killed = new Promise<void>((done) =>
          setTimeout(
            () => {
              program.signal("SIGKILL");
              done();
            },
            200 + ((round * 137) % 600),
          ),
        );
        for (let n = 0; ; n++) {
          const name = `round ${round} edit ${n}`;
          const taken = await rename(program, name).then(
            (r) => r.ok,
            () => false,
          );
          if (!taken) break;
          newest = name;
          acknowledged++;
        }
        await killed;
        await program.exited();
        await program.start();
        const found = await nameOf(program);
        // One that was stored but not acknowledged in time may be there; none that was may be missing.
        const numberOf = (name: string) => Number(/edit (\d+)$/.exec(name)?.[1] ?? -1);
        if (numberOf(found) < numberOf(newest)) lost += numberOf(newest) - numberOf(found);
        program.signal("SIGKILL");
        await program.exited();
      }
      await program.start();
      return [
        {
          scene: "12 kills among edits",
          figure: `${lost} of ${acknowledged} acknowledged edits lost`,
          wanted: "0 lost",
          ok: lost === 0 && acknowledged > 50,
        },
      ];
    });
  },
};

export const DISK: readonly Scene[] = [twoPrograms, damaged, full, kills];
