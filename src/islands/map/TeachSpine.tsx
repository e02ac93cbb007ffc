/** While controls are added as they are touched: what the newest is taken for and why, its light, and what it leads to. */
import { useEffect, useLayoutEffect, useState, useSyncExternalStore } from "react";
import type { Control, ControlMessage, SurfaceProfile } from "../../core/format/surface-profile.ts";
import type { Evidence } from "../../core/teach/evidence.ts";
import type { Shown } from "../../core/teach/teacher.ts";
import { ENGLISH } from "../../words/english.ts";
import { sendsWords } from "../../words/mappings.ts";
import { evidenceWords, kindsOf, PRESSED } from "../../words/teach.ts";
import { Button, Key } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { Segments } from "../components/Segments.tsx";
import { useActions } from "../live/actions.ts";
import { rememberKind } from "../live/remembered-kinds.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { LightProbe } from "./LightProbe.tsx";
import { RingProbe } from "./RingProbe.tsx";
import { TaughtSurface } from "./taught-surface.ts";

export function TeachSpine({ surface }: { surface: string }) {
  const store = usePageStore();
  const actions = useActions();
  const [taught] = useState(() => new TaughtSurface(store, actions, surface));
  const teaching = useSyncExternalStore(taught.watch, taught.now, taught.now);
  const profile = useLive((l) => {
    const kind = l.show.surfaces.find((s) => s.id === surface)?.profile;
    return l.show.profiles?.surfaces.find((p) => p.id === kind);
  });
  const name = useLive((l) => l.show.surfaces.find((s) => s.id === surface)?.name ?? "");
  const hasOutput = useLive((l) => l.show.surfaces.find((s) => s.id === surface)?.out.kind !== "none");
  const picked = usePage((s) => (s.chosen?.surface === surface ? s.chosen.control : null));
  const middleC = useLive((l) => l.show.settings.middleC);
  const control = profile?.controls.find((c) => c.id === picked);
  useEffect(() => {
    const stop = taught.listen();
    return () => {
      stop();
      void taught.done();
      store.setState((s) => (s.adding === surface ? { adding: null } : {}));
    };
  }, [taught, store, surface]);
  // With each touch, and not at the end: the page may be closed, or another show opened, at any time.
  useEffect(() => {
    const input = store.getState().live.show.surfaces.find((s) => s.id === surface)?.in;
    if (input && "device" in input && profile && profile.controls.length > 0)
      rememberKind(localStorage, input.device, profile);
  }, [store, surface, profile]);
  useLayoutEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const board = (e.target as Element).closest("[data-board]") ?? document.body === e.target;
      if (e.key !== "Delete" || !board || picked === null || !control) return;
      e.preventDefault();
      e.stopPropagation();
      taught.takeOff(picked);
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  }, [taught, picked, control]);
  if (!profile) return null;
  return (
    <>
      <div className="-mr-2 flex min-h-0 flex-1 flex-col gap-3 overflow-y-auto pr-2">
        {control ? (
          <>
            <AddedControl
              key={control.id}
              control={control}
              shown={teaching.shown.get(control.id)}
              isNew={teaching.newest === control.id}
              taught={taught}
            />
            <LightProbe
              key={`light ${control.id}`}
              surface={surface}
              profile={profile}
              control={control}
              hasOutput={hasOutput}
            />
            <RingProbe
              key={`level ${control.id}`}
              surface={surface}
              profile={profile}
              control={control}
              hasOutput={hasOutput}
            />
          </>
        ) : (
          <div className="m-auto grid max-w-[330px] gap-3 text-center" role="status">
            <h1 className="text-head font-semibold text-brass-300">Touch anything on {name}</h1>
            <p className="text-ink-300">
              Each control is drawn as it is touched, with what it is taken for. Press pads, push faders, and turn knobs
              both ways. Nothing leaves for the desks meanwhile.
            </p>
          </div>
        )}
        {teaching.unsure.slice(-1).map((s) => (
          <p key={s.key} className="rounded-xl bg-velvet-850 px-4 py-3 text-ink-300" role="status">
            Heard {sendsWords({ sends: s.found.sends }, middleC)}: move it a little more.
          </p>
        ))}
        {teaching.bank ? <Bank taught={taught} profile={profile} /> : teaching.row ? <Row taught={taught} /> : null}
        {teaching.restless.map((r) => (
          <p
            key={JSON.stringify(r.sends)}
            className="rounded-xl border border-care-line bg-care-ground px-4 py-2.5 text-care"
            role="note"
          >
            <b className="font-semibold">Left out:</b> {sendsWords(r, middleC)} moves by itself,{" "}
            {Math.max(1, Math.round(r.perS))} a second.{" "}
            <button type="button" className="underline underline-offset-2" onClick={() => taught.allow(r)}>
              Add it all the same
            </button>
          </p>
        ))}
      </div>
      <div className="flex items-center gap-3 border-t border-velvet-700 pt-2.5">
        <span className="min-w-0 flex-1 text-small text-ink-500">
          {profile.controls.length === 0
            ? ""
            : "Touch the next one when you like, or say on the right what this one does."}
        </span>
        <Button look="primary" onClick={() => store.setState({ adding: null })}>
          Done, let hands play <Key>Esc</Key>
        </Button>
      </div>
    </>
  );
}

interface AddedProps {
  control: Control;
  shown: Shown | undefined;
  isNew: boolean;
  taught: TaughtSurface;
}

function AddedControl({ control, shown, isNew, taught }: AddedProps) {
  const middleC = useLive((l) => l.show.settings.middleC);
  const isPressed = PRESSED.some(([b]) => b === control.behaviour) && control.sends.kind !== "program";
  return (
    <>
      <div className="flex items-start justify-between gap-2.5">
        <div className="min-w-0">
          <h1 className="overflow-hidden text-head leading-tight font-semibold text-ellipsis whitespace-nowrap">
            {isNew ? "New: " : ""}
            {control.name}
          </h1>
          <div className="mt-[3px] font-mono text-small text-ink-500">{sendsWords(control, middleC)}</div>
        </div>
        <Button look="quiet" onClick={() => taught.takeOff(control.id)}>
          Not this one <Key>Del</Key>
        </Button>
      </div>
      <div className="grid grid-cols-[68px_minmax(0,1fr)] items-center gap-x-3 gap-y-2 text-small text-ink-500 [&>span]:text-right">
        <span>it is a</span>
        <Segments
          label="What it is"
          value={control.kind}
          options={kindsOf(control).map((k) => [k, ENGLISH.controlKinds[k].toLowerCase()] as const)}
          onChange={(kind) => taught.say(control.id, { kind })}
        />
        <span>called</span>
        <DraftField
          label="What it is called"
          className="w-44"
          value={control.name}
          accepts={(text) => text.trim() !== ""}
          onCommit={(text) => taught.say(control.id, { name: text.trim() })}
        />
        {isPressed ? (
          <>
            <span>it</span>
            <div className="flex items-center gap-3">
              <Segments
                label="What it does when it is let go"
                value={control.behaviour}
                options={PRESSED}
                onChange={(behaviour) => taught.say(control.id, { behaviour })}
              />
            </div>
          </>
        ) : null}
        {shown ? (
          <>
            <span>heard</span>
            <div className="flex items-center gap-3">
              <Curve evidence={shown.evidence} />
              <p className="min-w-0">{evidenceWords(shown)}</p>
            </div>
          </>
        ) : null}
      </div>
    </>
  );
}

const CURVE = { width: 66, height: 22 };

/** What was heard, as it went up and down. */
function Curve({ evidence: { curve } }: { evidence: Evidence }) {
  if (curve.length < 2) return null;
  const [first] = curve[0]!;
  const span = Math.max(1, curve.at(-1)![0] - first);
  const { width, height } = CURVE;
  const points = curve.map(([atMs, value], i) => {
    const x = ((atMs - first) / span) * width;
    const y = height - 1 - value * (height - 2);
    return i === 0 ? `M${x} ${y}` : `H${x} V${y}`;
  });
  return (
    <svg
      width={width}
      height={height}
      className="shrink-0 overflow-visible"
      role="img"
      aria-label="The values as they came"
    >
      <path d={points.join(" ")} fill="none" stroke="var(--color-cool)" strokeWidth={1.5} />
    </svg>
  );
}

/** Messages of a row have numbers. */
const numberOf = (sends: ControlMessage | undefined) => (sends as { number: number }).number;

function numbersWords(sends: readonly ControlMessage[]): string {
  const [first, last] = [numberOf(sends[0]), numberOf(sends.at(-1))];
  return first === last ? `${first}` : `${first} to ${last}`;
}

function Row({ taught }: { taught: TaughtSurface }) {
  const { row } = useSyncExternalStore(taught.watch, taught.now, taught.now);
  if (!row) return null;
  const kind = row.like[0]!.kind;
  return (
    <section className="grid gap-2.5 rounded-xl bg-velvet-850 px-4 py-3" aria-label="The rest of the row">
      <span>
        <b className="font-semibold">{row.like.map((c) => numberOf(c.sends)).join(", ")} go up evenly.</b> A row of{" "}
        {row.rest.length + row.like.length} ends at {numberOf(row.rest.at(-1))}.
      </span>
      <div className="flex gap-2">
        <Button onClick={() => taught.addRow(row)}>
          Add {numbersWords(row.rest)} as {kind}s
        </Button>
        <Button look="quiet" onClick={() => taught.noRow()}>
          I will touch them
        </Button>
      </div>
    </section>
  );
}

function Bank({ taught, profile }: { taught: TaughtSurface; profile: SurfaceProfile }) {
  const { bank } = useSyncExternalStore(taught.watch, taught.now, taught.now);
  if (!bank) return null;
  const nameOf = (id: string) => profile.controls.find((c) => c.id === id)?.name ?? id;
  const { channels, numbers } = bank.shift;
  const how =
    channels !== 0 ? `${Math.abs(channels)} channel ${channels > 0 ? "up" : "down"}` : `${numbers} numbers up`;
  return (
    <section
      className="grid gap-2.5 rounded-xl border border-brass-700 bg-armed px-4 py-3"
      aria-label="A bank"
      role="alert"
    >
      <span>
        <b className="font-semibold">
          {bank.pairs.map((p) => nameOf(p.now)).join(" and ")} look like{" "}
          {bank.pairs.map((p) => nameOf(p.first)).join(" and ")}, {how}.
        </b>{" "}
        Was a bank button pressed on the surface?
      </span>
      <div className="flex gap-2">
        <Button onClick={() => taught.isBank(bank)}>Yes, the same pads</Button>
        <Button look="quiet" onClick={() => taught.noBank()}>
          No, these are others
        </Button>
      </div>
    </section>
  );
}
