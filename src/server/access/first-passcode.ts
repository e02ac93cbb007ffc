/**
 * Before others can reach this computer there is a passcode: from the environment, or typed at the terminal that the program
 * was started from. It is asked for once, and never on the command line, which everybody on the computer can read.
 */
import { createInterface } from "node:readline/promises";
import { Writable } from "node:stream";
import { problemAdvice } from "../../words/problems.ts";
import type { Access } from "./access.ts";
import { AT_THIS_COMPUTER } from "./who.ts";

const NONE = [
  "Others can reach this computer with --host, so a passcode is needed first.",
  "Start it once from a terminal, where it is asked for, or give it in the variable VELVET_PASSCODE.",
].join(" ");

/** Null: there is one; otherwise the sentence to end with. */
export async function ensurePasscode(access: Access, given: string | null): Promise<string | null> {
  if (given !== null) return set(access, given);
  if (access.hasPasscode) return null;
  if (!process.stdin.isTTY) return NONE;
  console.log("Others will be able to reach this computer. Choose the passcode by which they come in to edit.");
  for (;;) {
    const passcode = await ask("Passcode: ");
    if (passcode === null) return NONE;
    const refused = await set(access, passcode);
    if (refused === null) {
      console.log("It is kept. Passcodes for those who only run or look are set under “Who is let in”.");
      return null;
    }
    console.log(refused);
  }
}

async function set(access: Access, passcode: string): Promise<string | null> {
  // The one that holds already ends nobody's session.
  if (await access.isPasscodeOf("edit", passcode)) return null;
  const problem = await access.setPasscode("edit", passcode, AT_THIS_COMPUTER);
  return problem && problemAdvice(problem);
}

/** What is typed, without showing it; null where the terminal is closed instead. */
async function ask(question: string): Promise<string | null> {
  process.stdout.write(question);
  const nowhere = new Writable({ write: (_chunk, _encoding, done) => done() });
  const lines = createInterface({ input: process.stdin, output: nowhere, terminal: true });
  // Ctrl-C stops the program, here too.
  lines.on("SIGINT", () => process.kill(process.pid, "SIGINT"));
  try {
    const closed = new Promise<null>((resolve) => lines.once("close", () => resolve(null)));
    return await Promise.race([lines.question(""), closed]);
  } finally {
    lines.close();
    process.stdout.write("\n");
  }
}
