/** What hands and keys do while a function is armed. */
import type { PageActions } from "../live/actions.ts";
import { type Armed, gave, type IfTaken, type Made, tookBack } from "../live/armed.ts";
import type { PageStore, Touch } from "../live/store.ts";
import { give, takeBack } from "./arming.ts";

/** The same control again within this time is one touch that bounced, in ms. */
const BOUNCE_MS = 400;
/** Gives, asks and takes back, one after the other. */
export class Giving {
  readonly #store: PageStore;
  readonly #actions: PageActions;
  #last: (Touch & { readonly atMs: number }) | null = null;
  #work: Promise<void> = Promise.resolve();

  constructor(store: PageStore, actions: PageActions) {
    this.#store = store;
    this.#actions = actions;
  }

  touch(touch: Touch): void {
    const atMs = performance.now();
    const last = this.#last;
    this.#last = { ...touch, atMs };
    if (last?.surface === touch.surface && last.control === touch.control && atMs - last.atMs < BOUNCE_MS) return;
    this.#inTurn((armed) => (armed.asking ? Promise.resolve() : this.#give(armed, touch, armed.ifTaken)));
  }

  answer(ifTaken: IfTaken): void {
    this.#inTurn((armed) => (armed.asking ? this.#give(armed, armed.asking, ifTaken) : Promise.resolve()));
  }

  takeBack(made: Made): void {
    this.#inTurn(async (armed) => {
      const edits = takeBack(this.#store.getState(), made);
      if (
        edits &&
        !(await this.#actions.edit({ kind: "together", does: `take back ${made.control}`, edits: [...edits] }))
      )
        return;
      this.#set(tookBack(armed, made));
    });
  }

  async #give(armed: Armed, touch: Touch, ifTaken: IfTaken): Promise<void> {
    const given = give(this.#store.getState(), armed, touch, ifTaken);
    if (given.kind === "asks") this.#set({ ...armed, asking: touch });
    if (given.kind !== "makes") return;
    const { edits, does, made } = given;
    if (await this.#actions.edit({ kind: "together", does, edits: [...edits] })) this.#set(gave(armed, made));
  }

  /** A quick hand touches the next control before the server has answered for this one. */
  #inTurn(work: (armed: Armed) => Promise<void>): void {
    this.#work = this.#work.then(() => {
      const { armed } = this.#store.getState();
      return armed ? work(armed) : undefined;
    });
  }

  #set(armed: Armed): void {
    // Somebody may have ended it meanwhile.
    if (this.#store.getState().armed) this.#store.setState({ armed });
  }
}
