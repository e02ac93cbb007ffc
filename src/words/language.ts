/**
 * What a language has to say: an entry for every code that the program can tell a person. English is one of these;
 * another language is another file beside it, and the compiler says what it lacks.
 */

import type { Gesture } from "../core/format/gestures.ts";
import type { Expected, Problem, ProblemCode, TemplateFault, Thing } from "../core/format/problem.ts";
import type { Rule } from "../core/format/rules.ts";
import type { Control } from "../core/format/surface-profile.ts";
import type { MessageKind, Wire } from "../core/format/wires.ts";
import type { PortTrouble, TroubleCode } from "../core/live/port-trouble.ts";
import type { Advice, AdviceCode } from "../core/mapping/advice.ts";
import type { MessagePart } from "../core/midi/message-parts.ts";
import type { Outcome, Shown } from "../core/trace/outcome.ts";
import type { Difference } from "../core/translate/near-miss.ts";
import type { OutcomeFacts } from "./outcome-facts.ts";

export type ProblemOf<C extends ProblemCode> = Extract<Problem, { code: C }>;
export type AdviceOf<C extends AdviceCode> = Extract<Advice, { code: C }>;
export type TroubleOf<C extends TroubleCode> = Extract<PortTrouble, { code: C }>;
export type FaultOf<F extends TemplateFault["fault"]> = Having<TemplateFault, "fault", F>;
export type ExpectedOf<I extends Expected["is"]> = Having<Expected, "is", I>;
/** The members of a union whose field can have this value; one member may have several. */
type Having<U, K extends string, V> = U extends Readonly<Record<K, infer X>> ? (V extends X ? U : never) : never;

/** A sentence without its full stop and its place, why it comes about, and what to do. */
export interface ProblemEntry<P> {
  says(problem: P): string;
  readonly cause: string;
  /** Shown behind the sentence; a sentence of its own. Left out where the sentence itself says what to do. */
  readonly remedy?: string;
  /** An example for docs/problems.md and its test. */
  readonly example: P;
}

export interface AdviceEntry<A> {
  says(advice: A): string;
  readonly remedy: string;
  /** What a press does that ends it and changes nothing else; left out where somebody has to decide. */
  readonly mend?: string;
}

export interface TroubleEntry<T> {
  /** A clause: "nobody listens on port 9100 there". */
  says(trouble: T): string;
  readonly remedy: string;
  readonly example: T;
}

/** What is told of something that is wrong. The pages that run a show are drawn without it, and need not load it. */
export interface FaultWords {
  readonly problems: { readonly [C in ProblemCode]: ProblemEntry<ProblemOf<C>> };
  readonly expected: { readonly [I in Expected["is"]]: (expected: ExpectedOf<I>) => string };
  readonly rules: Readonly<Record<Rule, string>>;
  readonly templateFaults: { readonly [F in TemplateFault["fault"]]: (fault: FaultOf<F>) => string };
  readonly things: Readonly<Record<Thing, string>>;
  readonly troubles: { readonly [C in TroubleCode]: TroubleEntry<TroubleOf<C>> };
}

/** What is told while a show runs. */
export interface RunningWords {
  readonly advice: { readonly [C in AdviceCode]: AdviceEntry<AdviceOf<C>> };
  readonly outcomes: Readonly<Record<Outcome, (facts: OutcomeFacts) => string>>;
  readonly shown: Readonly<Record<Shown, string>>;
  readonly nearMisses: Readonly<Record<Difference, (wanted: string) => string>>;
  /** A number that a message carries, as in "the message has no cue number". */
  readonly messageParts: Readonly<Record<MessagePart, string>>;
  readonly gestures: Readonly<Record<Gesture, string>>;
  readonly controlKinds: Readonly<Record<Control["kind"], string>>;
  readonly behaviours: Readonly<Record<Control["behaviour"], string>>;
  readonly messages: Readonly<Record<MessageKind, string>>;
  readonly wires: Readonly<Record<Wire, string>>;
  readonly ordinal: (n: number) => string;
  readonly or: (list: readonly (string | number)[]) => string;
}

export interface Language extends FaultWords, RunningWords {}
