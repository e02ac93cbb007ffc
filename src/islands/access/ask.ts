/** Requests about who is let in, each answered with what it was asked for or with a sentence. */
import { toast } from "../live/toast.ts";

export type Asked<T> = { ok: true; data: T } | { ok: false; sentence: string };

const AWAY = "The server does not answer. Nothing was changed.";

export async function ask<T>(path: string, method: string, body?: unknown): Promise<Asked<T>> {
  try {
    const response = await fetch(path, {
      method,
      headers: { "content-type": "application/json" },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const data = (await response.json()) as T & { problems?: string[] };
    if (response.ok) return { ok: true, data };
    return { ok: false, sentence: data.problems?.join(" ") ?? AWAY };
  } catch {
    return { ok: false, sentence: AWAY };
  }
}

/** As `ask`; a refusal is told, and null is the answer. */
export async function askOrTell<T>(path: string, method: string, body?: unknown): Promise<T | null> {
  const asked = await ask<T>(path, method, body);
  if (asked.ok) return asked.data;
  toast.error("Not changed", { description: asked.sentence, duration: 8000 });
  return null;
}
