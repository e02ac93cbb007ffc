/**
 * The log: one line of JSON for each thing that somebody may want to know the day after: starts and ends, deaths, trips,
 * ports that failed, refused edits and logins. It lies in the data folder and is turned over, so that it never fills a
 * disk. What a person at the terminal has to know is said there too.
 */
import { chmodSync, mkdirSync } from "node:fs";
import { join } from "node:path";
import { createStream, type RotatingFileStream } from "rotating-file-stream";

export const LOG_LEVELS = ["error", "warn", "info", "debug"] as const;
export type LogLevel = (typeof LOG_LEVELS)[number];
export type Facts = Readonly<Record<string, unknown>>;

/** A file of the log is turned over at this size, and so many old ones are kept. */
const FILE_SIZE = "1M";
const OLD_FILES = 5;
const END_WITHIN_MS = 500;
/** Longest text of a fact. */
const MOST_CHARS = 2000;

export interface Log {
  /** `event`: a name that does not change, for whoever searches. */
  write(level: LogLevel, event: string, facts?: Facts): void;
  end(): Promise<void>;
}

/** A line of the log, without its end. Texts are cut: nobody fills it by saying much. */
export function logLine(time: Date, level: LogLevel, event: string, facts: Facts = {}): string {
  return JSON.stringify({ time: time.toISOString(), level, event, ...facts }, (_key, value: unknown) =>
    typeof value === "string" && value.length > MOST_CHARS ? `${value.slice(0, MOST_CHARS)}…` : value,
  );
}

export function openLog(dataFolder: string, most: LogLevel): Log {
  const path = join(dataFolder, "log");
  const levels = new Set(LOG_LEVELS.slice(0, LOG_LEVELS.indexOf(most) + 1));
  let stream: RotatingFileStream | null = null;
  try {
    mkdirSync(path, { recursive: true, mode: 0o700 });
    chmodSync(path, 0o700);
    stream = createStream((index) => (index ? `velvet-hinge.${String(index)}.log` : "velvet-hinge.log"), {
      path,
      size: FILE_SIZE,
      rotate: OLD_FILES,
      mode: 0o600,
    });
    // A log that cannot be written must not end what it writes about.
    stream.on("error", () => {
      stream = null;
    });
  } catch {
    // The folder cannot be made: the server has said why, or goes on without a log.
  }
  return {
    write(level, event, facts) {
      if (levels.has(level)) stream?.write(`${logLine(new Date(), level, event, facts)}\n`);
    },
    end: () =>
      new Promise((resolve) => {
        if (!stream) return resolve();
        // A disk that does not answer must not keep the program from ending.
        const limit = setTimeout(resolve, END_WITHIN_MS);
        stream.end(() => {
          clearTimeout(limit);
          resolve();
        });
      }),
  };
}
