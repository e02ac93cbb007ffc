/** An empty show: four things on the way to the first light, in any order. Each ticks itself off as it happens. */
import { Check } from "lucide-react";
import type { ReactNode } from "react";
import { HOUSE } from "../../core/format/givens.ts";
import { Button } from "../components/controls.tsx";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import type { LiveState } from "../live/apply-changes.ts";
import { arm } from "../live/armed.ts";
import { useLive, useLiveEqual, usePageStore } from "../live/store.ts";

/** The kind of desk whose stand-in is offered first, and the surface that is drawn. */
const FIRST_DESK = "quay-lights";
const FIRST_SURFACE = "deck-grid";
const KEYS_SURFACE = "computer-keys";
/** With more mappings than this nobody needs to be shown the way. */
const FEW = 3;

/** Whether the way is still to be shown. */
export function isFirst({ show, lights }: LiveState): boolean {
  return show.mappings.length < FEW && !(show.mappings.length > 0 && isLit(lights));
}

function isLit(lights: LiveState["lights"]): boolean {
  return Object.values(lights).some((all) => [...all.values()].some((value) => value > 0));
}

export function FirstLight({ onAway }: { onAway(): void }) {
  const store = usePageStore();
  const actions = useActions();
  const surfaces = useLiveEqual((l) => l.show.surfaces.map((s) => s.name));
  const desks = useLiveEqual((l) => l.show.desks.map((d) => ({ id: d.id, name: d.name })));
  const mappings = useLive((l) => l.show.mappings.length);
  const lit = useLive((l) => isLit(l.lights));
  const isEmpty = surfaces.length === 0 && desks.length === 0;
  const first = useLiveEqual((l) => {
    const desk = l.compiled.desks.find((d) => d.id !== HOUSE && d.profile.functions.some((f) => f.acts === "toggle"));
    const fn = desk?.profile.functions.find((f) => f.acts === "toggle");
    return desk && fn ? { desk: desk.id, name: desk.desk.name, fn, profile: desk.profile } : null;
  });
  const steps = [surfaces.length > 0, desks.length > 0, mappings > 0, mappings > 0 && lit];
  const current = steps.indexOf(false);
  return (
    <div className="flex min-h-full flex-col gap-5 px-3 py-1">
      <div>
        <h1 className="text-large font-semibold tracking-tight">From hand to light</h1>
        <p className="text-ink-300">Four things, in any order. Each ticks itself off as it happens.</p>
      </div>
      <ol className="grid gap-5">
        <Step n={1} done={steps[0]!} isNext={current === 0} title="Plug in or draw a surface">
          {surfaces.length > 0 ? (
            `${surfaces[0]} is here.`
          ) : (
            <>
              What is plugged in and plays shows itself on the left. Without one:
              <Buttons>
                <DrawButton profile={FIRST_SURFACE} words="Draw a Deck grid" />
                <DrawButton profile={KEYS_SURFACE} words="Use the computer’s keys" />
              </Buttons>
            </>
          )}
        </Step>
        <Step n={2} done={steps[1]!} isNext={current === 1} title="Name the desk in the house">
          {desks.length > 0 ? (
            `${desks[0]!.name} is in the show.`
          ) : (
            <>
              Add it on the right: its kind, then its address. Nothing is sent before you try it.
              <Buttons>
                <StandInButton />
              </Buttons>
            </>
          )}
        </Step>
        <Step n={3} done={steps[2]!} isNext={current === 2} title="Say what it should do, and touch a control">
          {mappings > 0 ? (
            mappings === 1 ? (
              "One control does something."
            ) : (
              `${mappings} controls do something.`
            )
          ) : first ? (
            <>
              On the Map: choose one of the desk’s functions, then touch what should do it.
              <Buttons>
                <Button
                  onClick={() => {
                    const { desk, fn, profile } = first;
                    store.setState({
                      armed: arm(desk, fn, profile.parameters, profile.page?.parameter),
                      adding: null,
                      learning: false,
                    });
                    actions.go("map");
                  }}
                >
                  Take “{first.fn.name}” of {first.name}
                </Button>
              </Buttons>
            </>
          ) : (
            "On the Map: choose one of the desk’s functions, then touch what should do it."
          )}
        </Step>
        <Step n={4} done={steps[3]!} isNext={current === 3} title="See it light">
          The desk answers, and the pad shows what the desk does.
        </Step>
      </ol>
      <div className="mt-auto grid gap-3 border-t border-velvet-700 pt-4">
        {isEmpty ? (
          <div className="grid justify-items-start gap-2">
            <p className="text-small text-ink-500">
              <b className="block text-[13px] font-semibold text-ink-100">Rather look around first?</b>
              The Lantern Regatta: three surfaces, four desks.
            </p>
            <Button onClick={() => void actions.openDemo()}>Load the demo show</Button>
          </div>
        ) : null}
        <div className="flex items-center justify-between text-small text-ink-500">
          What is plugged in stands here afterwards.
          <Button look="quiet" size="small" onClick={onAway}>
            Put it away
          </Button>
        </div>
      </div>
    </div>
  );
}

interface StepProps {
  n: number;
  done: boolean;
  isNext: boolean;
  title: string;
  children: ReactNode;
}

function Step({ n, done, isNext, title, children }: StepProps) {
  return (
    <li
      className="grid grid-cols-[30px_minmax(0,1fr)] gap-3"
      aria-current={isNext ? "step" : undefined}
      data-done={done}
    >
      <span
        className={`grid size-[30px] place-items-center rounded-full text-small font-semibold ${
          done
            ? "border border-good text-good"
            : isNext
              ? "bg-brass-400 text-brass-ink outline-4 outline-brass-700/60"
              : "border border-velvet-600 text-ink-500"
        }`}
      >
        {done ? <Check size={15} aria-label="done" /> : n}
      </span>
      <div className="grid gap-1">
        <h2 className={`pt-1 text-lead leading-tight font-semibold ${done ? "text-ink-300" : ""}`}>{title}</h2>
        <div className="text-small text-ink-500">{children}</div>
      </div>
    </li>
  );
}

function Buttons({ children }: { children: ReactNode }) {
  return <div className="flex flex-wrap gap-2 pt-2">{children}</div>;
}

function DrawButton({ profile, words }: { profile: string; words: string }) {
  const actions = useActions();
  const kind = useLive((l) => l.surfaceProfiles.get(profile));
  if (!kind) return null;
  return (
    <Button
      size="small"
      onClick={() =>
        void actions.edit({
          kind: "add-surface",
          surface: { id: newId("s"), name: kind.name, profile, in: { kind: "screen" }, out: { kind: "screen" } },
        })
      }
    >
      {words}
    </Button>
  );
}

function StandInButton() {
  const actions = useActions();
  return (
    <Button
      size="small"
      onClick={() =>
        void actions.standIn(FIRST_DESK).then((desk) => {
          if (desk) void actions.edit({ kind: "add-desk", desk: { ...desk, id: newId("d") } });
        })
      }
    >
      No desk here yet: use a stand-in
    </Button>
  );
}
