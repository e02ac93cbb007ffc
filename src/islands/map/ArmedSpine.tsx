/** Function first: a function is armed, each touch is given it, and the next number arms itself. */
import { Hand, Undo2 } from "lucide-react";
import { useLayoutEffect, useRef } from "react";
import type { DeskFunction } from "../../core/format/desk-profile.ts";
import { WHOLE_TRAVEL } from "../../core/format/givens.ts";
import type { Action } from "../../core/format/show.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import { inSentence } from "../../words/mappings.ts";
import { Button, Key } from "../components/controls.tsx";
import { Segments } from "../components/Segments.tsx";
import { isTyping } from "../components/typing.ts";
import { useActions } from "../live/actions.ts";
import { type Armed, bindingsNow, type IfTaken, isGiving, leftOut, type Made } from "../live/armed.ts";
import { numbersName } from "../live/number-name.ts";
import { type Touch, useLive, usePageStore } from "../live/store.ts";
import { ArmedQueue } from "./ArmedQueue.tsx";
import { BindingField } from "./BindingField.tsx";
import { Giving } from "./giving.ts";

/** Without a touch for so long it is asked whether the surface is there, in ms. */
const NOTHING_MS = 20_000;
/** Of what was made, the newest stand in view. */
const IN_VIEW = 6;

export function ArmedSpine({ armed }: { armed: Armed }) {
  const store = usePageStore();
  const actions = useActions();
  const giving = useRef<Giving>(null);
  giving.current ??= new Giving(store, actions);
  const own = giving.current;
  useLayoutEffect(() => {
    store.setState({ takesTouch: (touch) => own.touch(touch) });
    const onKey = (e: KeyboardEvent) => {
      const { armed: now } = store.getState();
      if (!now || e.ctrlKey || e.metaKey || e.altKey || isTyping(e.target)) return;
      const made = now.made.at(-1);
      const at = e.target as Element;
      // On a button of the spine Space presses it, and on a control touches it; on the one that was just touched it leaves out.
      const isOnButton = at.closest('[aria-label="What it does"] button') !== null;
      const control = at.closest("[data-control]")?.getAttribute("data-control") ?? null;
      const touches = control !== null && control !== made?.control;
      if (e.key === " " && !isOnButton && !touches) store.setState({ armed: leftOut(now) });
      else if (e.key === "Backspace" && made) own.takeBack(made);
      else return;
      e.preventDefault();
      e.stopPropagation();
    };
    window.addEventListener("keydown", onKey, true);
    // A button that still has the focus would take the keys.
    (document.activeElement as HTMLElement | null)?.blur();
    return () => {
      window.removeEventListener("keydown", onKey, true);
      store.setState({ takesTouch: null, armed: null });
    };
  }, [store, own]);
  const desk = useLive((l) => l.compiled.desks.find((d) => d.id === armed.desk));
  const fn = desk?.functions.get(armed.function);
  if (!desk || !fn) return null;
  return (
    <>
      <section className="grid gap-3 rounded-xl border border-brass-500 bg-armed p-4" aria-label="Armed">
        <div className="flex items-center gap-4">
          <span className="grid size-11 shrink-0 place-items-center rounded-[11px] bg-brass-400 text-brass-ink">
            <Hand size={24} aria-hidden />
          </span>
          <div>
            <h1 className="text-head leading-tight font-semibold">Touch what should do this</h1>
            <p className="text-ink-300">
              <Waiting made={armed.made.length} />
            </p>
          </div>
        </div>
        <div className="grid gap-2">
          <b className="font-semibold">
            {desk.desk.name} · {inSentence(fn.fn.name)}
          </b>
          <div className="flex flex-wrap gap-1.5">
            {fn.parameters.map((parameter) => (
              <BindingField
                key={parameter.id}
                parameter={parameter}
                action={actionOf(armed)}
                control={ANY_CONTROL}
                onChange={(binding) =>
                  store.setState({
                    armed:
                      parameter.id === armed.counts?.parameter && binding.from === "fixed"
                        ? { ...armed, number: binding.value }
                        : {
                            ...armed,
                            bindings: { ...armed.bindings, [parameter.id]: binding },
                            ...(parameter.id === armed.counts?.parameter ? { counts: null } : {}),
                          },
                  })
                }
              />
            ))}
          </div>
        </div>
      </section>
      <div className="-mr-2 flex min-h-0 flex-1 flex-col gap-4 overflow-y-auto pr-2">
        {armed.asking ? <Taken armed={armed} giving={own} /> : null}
        <ArmedQueue armed={armed} />
        <WhatItMakes fn={fn.fn} />
        <MadeNow armed={armed} giving={own} />
        <div className="flex items-center justify-between gap-3 text-ink-500">
          If it has something already
          <Segments<IfTaken>
            label="If it has something already"
            value={armed.ifTaken}
            options={[
              ["ask", "ask"],
              ["keep", "keep both"],
              ["replace", "replace"],
            ]}
            onChange={(ifTaken) => store.setState({ armed: { ...armed, ifTaken } })}
          />
        </div>
      </div>
      <div className="flex items-center gap-2 border-t border-velvet-700 pt-2.5">
        {armed.counts ? (
          <Button disabled={!isGiving(armed)} onClick={() => store.setState({ armed: leftOut(armed) })}>
            Leave out {armed.number} <Key>Space</Key>
          </Button>
        ) : null}
        <div className="flex-1" />
        <Button onClick={() => store.setState({ armed: null })}>
          Done <Key>Esc</Key>
        </Button>
      </div>
    </>
  );
}

/** For fields that ask what a message may tell: what will be touched is not known yet. */
const ANY_CONTROL: Control = {
  id: "any",
  name: "any",
  kind: "pad",
  behaviour: "springs-back",
  box: { x: 0, y: 0, width: 1, height: 1 },
  sends: { kind: "note", channel: 1, number: 0 },
};

function actionOf(armed: Armed): Action {
  return {
    id: "armed",
    on: true,
    desk: armed.desk,
    function: armed.function,
    bindings: bindingsNow(armed),
    shape: WHOLE_TRAVEL,
  };
}

/** Where nothing is heard for long, that is said: it may not be plugged in. */
function Waiting({ made }: { made: number }) {
  const quiet = useLive((l) => {
    const heard = Math.max(-1, ...Object.values(l.surfaces).map((s) => s.heardAtMs));
    return l.atMs - heard > NOTHING_MS;
  });
  return quiet && made === 0 ? (
    <span className="text-care">Nothing was touched. Is it plugged in?</span>
  ) : (
    "on any surface, one control at a time"
  );
}

const MAKES: Record<DeskFunction["acts"], readonly [gesture: string, what: string]> = {
  toggle: ["press", "on or off, as the desk says it stands"],
  trigger: ["press", "once, at each press"],
  flash: ["press", "on while it is held, off when it is let go"],
  level: ["move", "the level, over the whole way of the control"],
};

function WhatItMakes({ fn }: { fn: DeskFunction }) {
  const [gesture, what] = MAKES[fn.acts];
  return (
    <section className="grid gap-1 rounded-xl bg-velvet-850 px-4 py-3" aria-label="What a touch makes">
      <b className="font-semibold">What a touch makes</b>
      <div className="grid grid-cols-[64px_1fr] gap-y-1">
        <span className="text-warm">{gesture}</span>
        <span className="text-ink-300">{what}</span>
        <span className="text-cool">light</span>
        <span className="text-ink-300">the desk’s colour: on steady, off dim, no answer pulsing</span>
      </div>
    </section>
  );
}

function MadeNow({ armed, giving }: { armed: Armed; giving: Giving }) {
  const newest = armed.made.slice(-IN_VIEW).reverse();
  if (newest.length === 0) return null;
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-1" aria-label="Made just now">
      <b className="text-small font-semibold text-ink-300">Made just now</b>
      <ul>
        {newest.map((made, i) => (
          <li
            key={made.action}
            className="flex min-h-10 items-center gap-3 border-t border-velvet-700 first:border-t-0"
          >
            <MadeWords made={made} armed={armed} />
            <Button size="small" title={i === 0 ? "Backspace" : undefined} onClick={() => giving.takeBack(made)}>
              <Undo2 size={13} aria-hidden /> Take back
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function MadeWords({ made, armed }: { made: Made; armed: Armed }) {
  const control = useControlName(made);
  const what = useLive((l) => {
    const fn = l.compiled.desks.find((d) => d.id === armed.desk)?.functions.get(armed.function);
    if (made.number === null || !armed.counts) return fn?.fn.name ?? "";
    const { parameter } = armed.counts;
    const bindings = bindingsNow({ ...armed, number: made.number });
    return `${parameter} ${made.number} ${numbersName(l, armed.desk, armed.function, bindings, parameter) ?? ""}`;
  });
  return (
    <>
      <b className="w-24 overflow-hidden font-semibold text-ellipsis whitespace-nowrap">{control}</b>
      <span className="min-w-0 flex-1 overflow-hidden text-ellipsis whitespace-nowrap text-ink-300">
        {what}
        {made.joined ? " · beside what it did" : made.replaced.length > 0 ? " · in the place of what it did" : ""}
      </span>
    </>
  );
}

function useControlName({ surface, control }: Touch): string {
  return useLive(
    (l) =>
      l.compiled.surfaces.find((s) => s.id === surface)?.profile.controls.find((c) => c.id === control)?.name ??
      control,
  );
}

function Taken({ armed, giving }: { armed: Armed; giving: Giving }) {
  const store = usePageStore();
  const name = useControlName(armed.asking!);
  return (
    <section className="grid gap-2.5 rounded-xl bg-care-ground px-4 py-3" role="alert">
      <span>
        <b className="font-semibold">{name} does something already.</b> What is to become of that?
      </span>
      <div className="flex gap-2">
        <Button onClick={() => giving.answer("keep")}>Keep both</Button>
        <Button onClick={() => giving.answer("replace")}>Replace it</Button>
        <Button look="quiet" onClick={() => store.setState({ armed: { ...armed, asking: null } })}>
          Leave it <Key>Esc</Key>
        </Button>
      </div>
    </section>
  );
}
