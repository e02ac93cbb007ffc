/** Which stand-ins were started for a show: they are started again with the server. A small file beside the database. */
import { readFileSync, renameSync, writeFileSync } from "node:fs";
import { z } from "zod";

const File = z.array(z.string().max(64)).max(32);

export class WantedStandIns {
  readonly #file: string;
  readonly #failed: (error: Error) => void;
  readonly #ids: Set<string>;

  /** A file that cannot be read or written is told of by `failed`, and nothing is started by it. */
  constructor(file: string, failed: (error: Error) => void) {
    this.#file = file;
    this.#failed = failed;
    this.#ids = new Set(this.#read());
  }

  has(id: string): boolean {
    return this.#ids.has(id);
  }

  add(id: string): void {
    if (this.#ids.has(id)) return;
    this.#ids.add(id);
    try {
      writeFileSync(`${this.#file}.new`, JSON.stringify([...this.#ids]), { mode: 0o600 });
      renameSync(`${this.#file}.new`, this.#file);
    } catch (error) {
      this.#failed(error as Error); // they run, and are only not started again
    }
  }

  #read(): string[] {
    try {
      return File.parse(JSON.parse(readFileSync(this.#file, "utf8")));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "ENOENT") this.#failed(error as Error);
      return [];
    }
  }
}
