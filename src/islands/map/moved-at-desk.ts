/** From the desk's end: what somebody moved there, as a function that can be armed. Pure. */
import { stateOfIndex, stateParameters } from "../../core/desk/compile-desk.ts";
import type { DeskFunction } from "../../core/format/desk-profile.ts";
import type { LiveState } from "../live/apply-changes.ts";
import { type Armed, arm } from "../live/armed.ts";

/** What the first value that a desk reported differently is changed by, armed with its numbers; null = nothing moved. */
export function movedAtDesk(before: LiveState, now: LiveState): Armed | null {
  if (before.values === now.values || before.compiled !== now.compiled) return null;
  for (const desk of now.compiled.desks) {
    const [old, fresh] = [before.values[desk.id], now.values[desk.id]];
    if (desk.inside || !fresh || old === fresh) continue;
    for (let i = 0; i < fresh.value.length; i++) {
      // A desk that says for the first time what it has was not moved.
      const isNew = old?.value[i] !== undefined && old.value[i] !== null && fresh.value[i] !== old.value[i];
      const state = isNew && fresh.source[i] === REPORTED ? stateOfIndex(desk, i) : null;
      if (!state || state.state.stream) continue;
      const fn = functionOf(desk.profile.functions, state.state.id);
      if (fn) return armedAt(now, desk.id, desk.profile, fn, numbersOf(state, i));
    }
  }
  return null;
}

const REPORTED = 2;

type State = NonNullable<ReturnType<typeof stateOfIndex>>;

function numbersOf(state: State, index: number): ReadonlyMap<string, number> {
  const numbers = stateParameters(state, index);
  return new Map(state.parameters.map((p, k) => [p.id, numbers[k]!]));
}

/** What changes this value: rather what switches or moves it than what is on only while it is held. */
function functionOf(functions: readonly DeskFunction[], state: string): DeskFunction | undefined {
  const own = functions.filter((f) => f.state === state);
  return own.find((f) => f.acts === "toggle" || f.acts === "level") ?? own[0];
}

function armedAt(
  { desks }: LiveState,
  desk: string,
  { parameters, page }: LiveState["compiled"]["desks"][number]["profile"],
  fn: DeskFunction,
  numbers: ReadonlyMap<string, number>,
): Armed {
  const armed = arm(desk, fn, parameters, page?.parameter);
  const bindings = { ...armed.bindings };
  for (const id of fn.parameters) {
    const number = numbers.get(id);
    // On the page that is up the page follows, as it does for whoever chooses by hand.
    const follows = bindings[id]?.from === "page" && number === (desks[desk]?.page ?? number);
    if (number !== undefined && !follows) bindings[id] = { from: "fixed", value: number };
  }
  const counted = armed.counts && numbers.get(armed.counts.parameter);
  return { ...armed, bindings, number: counted ?? armed.number };
}
