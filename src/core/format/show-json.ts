/**
 * A show as text, as `JSON.stringify` writes it. A mapping never changes, another takes its place: so each is written once,
 * and of a large show that is edited only the one that was changed.
 */
import type { Show } from "./show.ts";

const written = new WeakMap<object, string>();

export function showJson(show: Show): string {
  return objectJson(show, (key, value) => (key === "mappings" ? mappingsJson(value as Show["mappings"]) : undefined));
}

/** A message with a show in it. */
export function withShowJson<M extends { readonly show: Show }>(message: M): string {
  return objectJson(message, (key) => (key === "show" ? showJson(message.show) : undefined));
}

/** `own`: the text of a value that has one of its own. */
function objectJson(value: object, own: (key: string, value: unknown) => string | undefined): string {
  const parts = Object.entries(value).flatMap(([key, each]) => {
    const text: string | undefined = own(key, each) ?? JSON.stringify(each);
    return text === undefined ? [] : [`${JSON.stringify(key)}:${text}`];
  });
  return `{${parts.join(",")}}`;
}

function mappingsJson(mappings: Show["mappings"]): string {
  const parts = mappings.map((mapping) => {
    let text = written.get(mapping);
    if (text === undefined) {
      text = JSON.stringify(mapping);
      written.set(mapping, text);
    }
    return text;
  });
  return `[${parts.join(",")}]`;
}
