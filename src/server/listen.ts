/** The socket that the server listens on: plain HTTP, or TLS with one's own certificate. */
import { readFileSync } from "node:fs";
import { createServer, type Server } from "node:http";
import { createServer as createTlsServer } from "node:https";

/** How often the certificate is looked at, in ms: one that was renewed is taken without a restart. */
const LOOK_EVERY_MS = 60_000;

export interface TlsFiles {
  /** The certificate, with those between it and the root behind it, and its key; paths of files in PEM. */
  readonly cert: string;
  readonly key: string;
}

/** Why it cannot be: a sentence for whoever started it. */
export class CannotListen extends Error {}

export interface MadeServer {
  readonly server: Server;
  /** Calls back with what became of each look at a certificate that has changed; answers how to stop looking. */
  watch(told: (error: Error | null) => void): () => void;
}

/** Rejects files that are not a certificate and its key. */
export function makeServer(tls: TlsFiles | null, lookEveryMs = LOOK_EVERY_MS): MadeServer {
  if (tls === null) return { server: createServer(), watch: () => () => {} };
  const read = () => ({ cert: readFileSync(tls.cert), key: readFileSync(tls.key) });
  try {
    let seen = read();
    const server = createTlsServer({ ...seen, minVersion: "TLSv1.2" });
    const watch = (told: (error: Error | null) => void) => {
      let failure = "";
      const look = () => {
        try {
          const now = read();
          if (now.cert.equals(seen.cert) && now.key.equals(seen.key)) return;
          seen = now;
          server.setSecureContext({ ...now, minVersion: "TLSv1.2" });
          failure = "";
          told(null);
        } catch (error) {
          // Half of a pair is written, or a file is away for a moment: the old one goes on, and it is told once.
          const { message } = error as Error;
          if (message !== failure) told(error as Error);
          failure = message;
        }
      };
      const looking = setInterval(look, lookEveryMs).unref();
      return () => clearInterval(looking);
    };
    return { server, watch };
  } catch (error) {
    throw new CannotListen(
      `The certificate cannot be used (${(error as Error).message}). Give a certificate and its key, both in PEM: --cert FILE --key FILE`,
    );
  }
}

export function listen(server: Server, host: string, port: number): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once("error", (error: NodeJS.ErrnoException) => {
      reject(
        new CannotListen(
          error.code === "EADDRINUSE"
            ? `Port ${port} on ${host} is in use. Stop what uses it, or choose another: --port ${port + 1}`
            : `Velvet Hinge cannot listen on ${host}:${port}: ${error.message}`,
        ),
      );
    });
    server.listen(port, host.replace(/^\[|\]$/g, ""), resolve);
  });
}
