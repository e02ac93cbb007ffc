/** For desks of one's own kinds: what was heard lately and what is typed into the search, each one press from a function. */
import { useMemo, useState } from "react";
import type { HeardExample } from "../../core/desk/listen.ts";
import { readTyped, type TypedFunction, unknownDesk, withTyped } from "../../core/desk/typed.ts";
import type { OneEdit } from "../../core/edit/edit-kinds.ts";
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import type { Action, Show } from "../../core/format/show.ts";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { arm } from "../live/armed.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { choiceOf, newAction, newMapping } from "./choice.ts";
import { type TypedAddress, TypedPanel } from "./TypedPanel.tsx";
import { useUnknown } from "./use-unknown.ts";

interface Props {
  query: string;
  /** The desk whose functions are listed; empty = all. */
  only: string;
  /** Functions that the query found. */
  found: number;
  onDone(): void;
}

export function AnyDesk({ query, only, found, onDone }: Props) {
  const keep = useKeep();
  const show = useLive((l) => l.show);
  const own = useMemo(() => {
    const kinds = new Map(show.profiles?.desks.map((p) => [p.id, p]));
    return new Map(
      show.desks.flatMap((d): [string, DeskProfile][] => {
        const kind = kinds.get(d.profile);
        return kind && (kind.wire.kind === "osc" || kind.wire.kind === "lines") ? [[d.id, kind]] : [];
      }),
    );
  }, [show]);
  const unknown = useUnknown(own);
  const [picked, setPicked] = useState<string | null>(null);
  const nameOf = (id: string) => show.desks.find((d) => d.id === id)?.name ?? id;
  const isPressed = usePage((page) => {
    const behaviour = choiceOf(page)?.control.behaviour;
    return behaviour !== undefined && behaviour !== "absolute" && behaviour !== "relative";
  });
  const [asLine, setAsLine] = useState(false);
  const typed = typedIn(query, only, found, own, asLine);
  if (typed) {
    const profile = typed.desk === null ? unknownDesk("new", NEW_NAMES[typed.wire], typed.wire) : own.get(typed.desk)!;
    return (
      <TypedPanel
        key={typed.desk ?? typed.wire}
        desk={typed.desk}
        deskName={typed.desk === null ? "" : nameOf(typed.desk)}
        profile={profile}
        examples={[typed.example]}
        wasHeard={false}
        isPressed={isPressed}
        onKeep={(made, at) =>
          void keep(typed.desk, profile, made, at).then((done) => {
            if (!done) return;
            setAsLine(false);
            onDone();
          })
        }
        onLeave={() => {
          setAsLine(false);
          onDone();
        }}
      />
    );
  }
  if (query !== "")
    return found > 0 ? null : (
      <p className="grid justify-items-start gap-2 p-2.5 text-ink-500">
        No desk can do “{query}”. Try another word for it; an address, as /quay/fan/3/level, is sent by OSC.
        <button type="button" className="text-cool underline underline-offset-2" onClick={() => setAsLine(true)}>
          Say it as a line of text to a new desk
        </button>
      </p>
    );
  const chosen = unknown.find((m) => m.key === picked);
  if (chosen)
    return (
      <TypedPanel
        key={chosen.key}
        desk={chosen.desk}
        deskName={nameOf(chosen.desk)}
        profile={own.get(chosen.desk)!}
        examples={chosen.examples}
        wasHeard
        isPressed={isPressed}
        onKeep={(made) => {
          setPicked(null);
          void keep(chosen.desk, own.get(chosen.desk)!, made, NOWHERE);
        }}
        onLeave={() => setPicked(null)}
      />
    );
  if (unknown.length === 0)
    return own.size > 0 && [...own.values()].every((p) => p.functions.length === 0) ? (
      <p className="rounded-lg bg-velvet-850 px-3 py-2.5 text-small text-ink-300">
        Nothing is known yet of what {[...own.keys()].map(nameOf).join(" and ")} can do. Type an address or a line
        above, as <span className="font-mono whitespace-nowrap">{exampleFor([...own.values()][0]!)}</span>, or move
        something at the desk: what it says appears here.
      </p>
    ) : null;
  return (
    <section className="grid gap-1" aria-label="Heard just now">
      <b className="px-2.5 text-small font-semibold text-ink-300">Heard just now</b>
      {unknown.map((m) => (
        <button
          key={m.key}
          type="button"
          onClick={() => setPicked(m.key)}
          className="flex items-baseline gap-2 rounded-md bg-cool-ground px-2.5 py-1.5 text-left hover:bg-velvet-800"
        >
          <span className="min-w-0 flex-1 overflow-hidden font-mono text-small text-ellipsis whitespace-nowrap text-cool">
            {wordsOf(m.examples.at(-1)!)}
          </span>
          <span className="text-tiny text-ink-500">{nameOf(m.desk)}</span>
        </button>
      ))}
    </section>
  );
}

function exampleFor(profile: DeskProfile): string {
  return profile.wire.kind === "osc" ? "/quay/fan/3/level" : "CUT 3";
}

function wordsOf({ wire, parts, values }: HeardExample): string {
  const list = values.map((v) => v.text).join(" ");
  const words = parts.map((p) => p.text);
  return wire === "osc" ? `/${words.join("/")} ${list}` : [...words, list].join(" ");
}

/** Of a desk that is there already nobody asks where it is. */
const NOWHERE: TypedAddress = { host: "", port: 0 };
const NEW_NAMES = { osc: "OSC desk", lines: "Line desk" } as const;

/**
 * An address is meant for a desk that speaks OSC; words that no function is called for one that takes lines. Where there is
 * none of a kind of one's own, a new one is meant: for lines only where that is asked for.
 */
function typedIn(
  query: string,
  only: string,
  found: number,
  own: ReadonlyMap<string, DeskProfile>,
  asLine: boolean,
): { desk: string | null; wire: "osc" | "lines"; example: HeardExample } | null {
  if (query.trim() === "") return null;
  const isOsc = query.startsWith("/");
  for (const [desk, { wire }] of own) {
    if (only !== "" && only !== desk) continue;
    const isMeant = wire.kind === "osc" ? isOsc : !isOsc && (found === 0 || only === desk);
    const kind = wire.kind === "osc" ? "osc" : "lines";
    const example = isMeant ? readTyped(query, kind) : null;
    if (example) return { desk, wire: kind, example };
  }
  const wire = isOsc ? "osc" : asLine ? "lines" : null;
  const example = wire && readTyped(query, wire);
  return wire && example ? { desk: null, wire, example } : null;
}

/**
 * Adds the function to the kind, and gives it to the chosen control, or arms it where none is chosen. A new desk comes with
 * a kind of its own. False: it was refused, which has been said.
 */
function useKeep() {
  const store = usePageStore();
  const actions = useActions();
  return async (
    known: string | null,
    profile: DeskProfile,
    made: TypedFunction,
    at: TypedAddress,
  ): Promise<boolean> => {
    const state = store.getState();
    const desk = known ?? newId("d");
    const whole = withTyped(known === null ? { ...profile, id: newId("k") } : profile, made);
    const choice = choiceOf(state);
    const action = choice && newAction(choice, state.live, desk, whole, made.fn);
    const edits: OneEdit[] =
      known === null
        ? [
            { kind: "put-desk-profile", profile: whole },
            { kind: "add-desk", desk: newDesk(desk, whole, at, state.live.show.desks) },
          ]
        : [
            {
              kind: "add-functions",
              profile: profile.id,
              parameters: [...made.parameters],
              states: made.state ? [made.state] : [],
              functions: [made.fn],
            },
          ];
    if (choice && action)
      edits.push(
        choice.shown
          ? { kind: "add-action", mapping: choice.shown.id, action: { ...action, bindings: asTyped(action, made) } }
          : {
              kind: "add-mapping",
              mapping: { ...newMapping(choice), actions: [{ ...action, bindings: asTyped(action, made) }] },
            },
      );
    if (!(await actions.edit({ kind: "together", does: `add ${made.fn.name}`, edits }))) return false;
    if (!choice) store.setState({ armed: arm(desk, made.fn, whole.parameters, whole.page?.parameter) });
    return true;
  };
}

/** The very numbers that were typed. */
function asTyped({ bindings }: Action, { numbers }: TypedFunction): Action["bindings"] {
  const typed = Object.entries(numbers).map(([id, value]) => [id, { from: "fixed", value }] as const);
  return { ...bindings, ...Object.fromEntries(typed) };
}

function newDesk(
  id: string,
  profile: DeskProfile,
  { host, port }: TypedAddress,
  desks: Show["desks"],
): Show["desks"][number] {
  const used = new Set(desks.map((d) => d.listenPort));
  let listenPort = Math.min(65_535, port + 1);
  while (used.has(listenPort) && listenPort < 65_535) listenPort++;
  return { id, name: profile.name, profile: profile.id, host, port, listenPort };
}
