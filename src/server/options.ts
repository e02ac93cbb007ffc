/** Flags and environment variables of the server; a flag goes before a variable. */
import { resolve } from "node:path";
import { parseArgs } from "node:util";
import { portVariables, STAND_INS } from "../standins/table.mjs";
import { LOG_LEVELS, type LogLevel } from "./log.ts";
import type { StandInId, StandInPorts } from "./standins.ts";

export interface Options {
  host: string;
  port: number;
  dataFolder: string;
  /** Starts with the demo show, in a database of its own, and with the stand-ins. */
  demo: boolean;
  /** Starts the stand-ins with the demo; without them the demo waits for desks that somebody else starts. */
  standIns: boolean;
  /** Stand-ins that were started for a show are started again. */
  standInsAgain: boolean;
  /** Opens a backup in the place of the stored show: its file, or the newest where none is named; null = does not. */
  restore: string | null;
  /** What is written to the log, and everything graver. */
  logLevel: LogLevel;
  /** Offers to break the engine on purpose, for tests of its recovery. */
  faults: boolean;
  /** Files of one's own certificate and of its key, in PEM; null = plain HTTP. */
  tls: { cert: string; key: string } | null;
  /** Names that others know this computer by, beside its own. */
  names: readonly string[];
  /** The passcode for “edit”, from the environment; null = it is asked for, or known already. */
  passcode: string | null;
  /** Ports of the stand-ins. */
  standInPorts: StandInPorts;
}

export type OptionsResult = { ok: true; options: Options } | { ok: false; sentence: string };

const DEFAULT_PORT = 4780;

export function readOptions(argv: readonly string[], env: NodeJS.ProcessEnv): OptionsResult {
  let values: {
    host?: string;
    port?: string;
    data?: string;
    demo?: boolean;
    "no-standins"?: boolean;
    restore?: boolean;
    "log-level"?: string;
    cert?: string;
    key?: string;
    name?: string[];
  };
  let backup: string | undefined;
  try {
    // The name of a backup may follow --restore.
    const at = argv.indexOf("--restore");
    const named = at >= 0 && argv[at + 1] !== undefined && !argv[at + 1]!.startsWith("-");
    backup = named ? argv[at + 1] : undefined;
    ({ values } = parseArgs({
      args: argv.filter((_, i) => !(named && i === at + 1)),
      options: {
        host: { type: "string" },
        port: { type: "string" },
        data: { type: "string" },
        demo: { type: "boolean", default: false },
        "no-standins": { type: "boolean", default: false },
        restore: { type: "boolean", default: false },
        "log-level": { type: "string" },
        cert: { type: "string" },
        key: { type: "string" },
        name: { type: "string", multiple: true },
      },
    }));
  } catch (error) {
    return {
      ok: false,
      sentence: `${(error as Error).message}. Known flags: --host, --port, --data, --demo, --no-standins, --restore, --log-level, --cert, --key, --name.`,
    };
  }
  const port = Number(values.port ?? env.VELVET_PORT ?? DEFAULT_PORT);
  if (!Number.isInteger(port) || port < 1 || port > 65_535)
    return { ok: false, sentence: `The port “${values.port ?? env.VELVET_PORT}” is not a number from 1 to 65535.` };
  const level = values["log-level"] ?? env.VELVET_LOG_LEVEL ?? "info";
  const logLevel = LOG_LEVELS.find((l) => l === level);
  if (!logLevel)
    return { ok: false, sentence: `The log level “${level}” is not one of these: ${LOG_LEVELS.join(", ")}.` };
  const cert = values.cert ?? env.VELVET_CERT;
  const key = values.key ?? env.VELVET_KEY;
  if ((cert === undefined) !== (key === undefined))
    return {
      ok: false,
      sentence: "A certificate and its key go together: --cert FILE --key FILE, both in PEM.",
    };
  const standInPorts = {} as StandInPorts;
  for (const [id, { port: usual }] of Object.entries(STAND_INS)) {
    const { port: variable } = portVariables(id);
    const own = Number(env[variable] ?? usual);
    if (!Number.isInteger(own) || own < 1 || own > 65_534)
      return { ok: false, sentence: `${variable} “${env[variable]}” is not a number from 1 to 65534.` };
    standInPorts[id as StandInId] = own;
  }
  return {
    ok: true,
    options: {
      host: values.host ?? env.VELVET_HOST ?? "127.0.0.1",
      port,
      dataFolder: resolve(values.data ?? env.VELVET_DATA ?? "data"),
      demo: values.demo ?? false,
      standIns: (values.demo ?? false) && !values["no-standins"],
      standInsAgain: !values["no-standins"],
      restore: values.restore ? (backup ?? "") : null,
      logLevel,
      faults: env.VELVET_FAULTS === "1",
      tls: cert !== undefined && key !== undefined ? { cert: resolve(cert), key: resolve(key) } : null,
      names: values.name ?? [],
      passcode: env.VELVET_PASSCODE ?? null,
      standInPorts,
    },
  };
}
