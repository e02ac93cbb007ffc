// The small parent of a server: it starts it, and starts it again when it dies. It does nothing else, so that nothing
// can end it. Plain JavaScript, because `tools/run.mjs` runs it before anything is built.
import { spawn } from "node:child_process";

/** Pauses before the next start of a server that died soon after the last one, in ms: none, then they grow. */
const PAUSES_MS = [0, 100, 200, 400, 800, 1600, 3200, 5000];
/** A server that ran this long has recovered. */
const RECOVERED_AFTER_MS = 10_000;
const SIGNALS = ["SIGINT", "SIGTERM", "SIGHUP"];

/**
 * Runs a server until it is told to stop, or cannot start at all; its exit code becomes ours. A server says it is ready
 * by a message; what ends before its first "ready" has told why, and is not started again.
 */
export function keepRunning(file, args, { nodeFlags = [], env = {} } = {}) {
  // What was asked for once must not be done again to the show that was edited since.
  const again = withoutRestore(args);
  let child = null;
  let wasReady = false;
  let stopping = false;
  let deaths = 0;
  const start = () => {
    const startedAtMs = performance.now();
    child = spawn(process.execPath, [...nodeFlags, file, ...(wasReady ? again : args)], {
      stdio: ["inherit", "inherit", "inherit", "ipc"],
      // Names that lead nowhere wait in this pool; with room for many of them no file and no database waits behind.
      env: { UV_THREADPOOL_SIZE: "32", ...process.env, ...env },
    });
    child.on("error", (error) => console.error(error.message));
    child.on("message", (message) => {
      wasReady ||= message?.kind === "ready";
    });
    child.on("exit", (code, signal) => {
      if (stopping || code === 0 || !wasReady) process.exit(code ?? (signal ? 1 : 0));
      if (performance.now() - startedAtMs > RECOVERED_AFTER_MS) deaths = 0;
      const pauseMs = PAUSES_MS[Math.min(deaths++, PAUSES_MS.length - 1)];
      console.error(`The server ended (${signal ?? `exit code ${code}`}) and is started again.`);
      setTimeout(() => (stopping ? process.exit(1) : start()), pauseMs);
    });
  };
  for (const signal of SIGNALS)
    process.on(signal, () => {
      stopping = true;
      child?.kill(signal);
    });
  start();
}

/** The flags without `--restore` and the backup it names. */
export function withoutRestore(args) {
  const at = args.indexOf("--restore");
  if (at < 0) return args;
  const named = args[at + 1] !== undefined && !args[at + 1].startsWith("-");
  return args.filter((_, i) => i !== at && !(named && i === at + 1));
}
