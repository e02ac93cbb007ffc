/** The processes that a bench starts, and what it asks of them. */
import type { ChildProcess } from "node:child_process";
import { once } from "node:events";
import type { Show } from "../../src/core/format/show.ts";
import type { LoadOrder, LoadResult } from "./load.ts";

export async function openShow(webPort: number, show: Show): Promise<void> {
  const response = await fetch(`http://127.0.0.1:${webPort}/api/show`, {
    method: "PUT",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(show),
  });
  if (!response.ok) throw new Error(await response.text());
}

export async function order(load: ChildProcess, message: LoadOrder): Promise<LoadResult> {
  load.send(message);
  const [result] = (await once(load, "message")) as [LoadResult];
  return result;
}

/** A forked process that says something when it is ready. */
export async function ready(child: ChildProcess): Promise<ChildProcess> {
  await once(child, "message");
  return child;
}

export function outputHas(child: ChildProcess, text: string): Promise<void> {
  return new Promise((resolve, reject) => {
    child.stdout!.on("data", (piece: Buffer) => {
      if (String(piece).includes(text)) resolve();
    });
    child.once("exit", (code) => reject(new Error(`the application ended with exit code ${code}`)));
  });
}
