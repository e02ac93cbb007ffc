/** A line as an HTTP request, and the answer as a line again: “PUT /level/3 {"value":0.5}”, “200 {"value":0.5}”. */

const HTTP_METHODS = ["GET", "PUT", "POST", "PATCH", "DELETE"] as const;
export type HttpMethod = (typeof HTTP_METHODS)[number];

export interface HttpRequest {
  readonly method: HttpMethod;
  /** With its query; it begins with a slash. */
  readonly path: string;
  /** Empty = none. */
  readonly body: string;
  readonly contentType: "application/json" | "text/plain";
}

/** Null: the line is no request. */
export function requestOf(line: string): HttpRequest | null {
  const [, method, path, body = ""] = /^([A-Z]+) +(\/\S*)(?: +(.*))?$/s.exec(line.trim()) ?? [];
  if (!path || !HTTP_METHODS.includes(method as HttpMethod)) return null;
  return {
    method: method as HttpMethod,
    path,
    body,
    contentType: /^[[{]/.test(body) ? "application/json" : "text/plain",
  };
}

/** An answer as one line: its status, and its body with every run of white space as one space. */
export function answerLine(status: number, body: string): string {
  return `${status} ${body.replace(/\s+/g, " ")}`.trim();
}
