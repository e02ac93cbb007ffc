import { candidateKey } from "../../core/surface/learn.ts";
import { sendsWords } from "../../words/mappings.ts";
import { Button, Key } from "../components/controls.tsx";
import { useActions } from "../live/actions.ts";
import { controlOf } from "../live/learned.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { teachSurface } from "../live/teach-surface.ts";

/** While Learn listens: what to do, and what was heard that no surface knows. */
export function Learning() {
  const store = usePageStore();
  const learned = usePage((s) => s.learned);
  const middleC = useLive((l) => l.show.settings.middleC);
  const actions = useActions();
  const unknown = learned?.best?.source;
  return (
    <div className="m-auto grid max-w-[340px] gap-3 text-center" role="status">
      <h1 className="text-head font-semibold text-brass-300">Touch a control</h1>
      <p className="text-ink-300">
        Press, turn or move it, here on the screen or on the real surface. The one that moves most is taken.
      </p>
      {learned?.best && !learned.known ? (
        <div className="grid justify-items-center gap-2 rounded-lg bg-care-ground px-3 py-2.5 text-[12.5px] text-care">
          <p>
            Heard {sendsWords(learned.best, middleC)}, a {learned.best.kind}: the surface has no such control yet.
          </p>
          <Button size="small" onClick={() => void teachSurface(store, actions, unknown!)}>
            Add this control
          </Button>
        </div>
      ) : null}
      <Listening />
      <Button className="justify-self-center" onClick={() => store.setState({ learning: false })}>
        Stop <Key>Esc</Key>
      </Button>
    </div>
  );
}

/** Which surfaces Learn listens to, and the way back for controls it was told to ignore. */
function Listening() {
  const store = usePageStore();
  const surfaces = useLive((l) => l.show.surfaces);
  const sources = usePage((s) => s.ignoredSources);
  const ignored = usePage((s) => s.ignored.size);
  return (
    <>
      {surfaces.length > 1 ? (
        <fieldset className="flex flex-wrap justify-center gap-x-3 gap-y-1 text-small text-ink-300">
          <legend className="mb-1 w-full text-ink-500">listens to</legend>
          {surfaces.map((s) => (
            <label key={s.id} className="flex cursor-pointer items-center gap-1.5">
              <input
                type="checkbox"
                checked={!sources.has(s.id)}
                className="accent-brass-400"
                onChange={(e) => {
                  const next = new Set(sources);
                  if (e.target.checked) next.delete(s.id);
                  else next.add(s.id);
                  store.setState({ ignoredSources: next });
                }}
              />
              {s.name}
            </label>
          ))}
        </fieldset>
      ) : null}
      {ignored > 0 ? (
        <button
          type="button"
          className="text-small text-ink-500 hover:text-ink-100"
          onClick={() => store.setState({ ignored: new Set() })}
        >
          {ignored === 1 ? "1 control is ignored" : `${ignored} controls are ignored`}: listen to all again
        </button>
      ) : null}
    </>
  );
}

/** What else moved while Learn listened: one of them may have been meant, or may never stand still. */
export function AlsoMoved() {
  const store = usePageStore();
  const actions = useActions();
  const learned = usePage((s) => s.learned);
  const compiled = useLive((l) => l.compiled);
  const middleC = useLive((l) => l.show.settings.middleC);
  if (!learned || learned.others.length === 0) return null;
  return (
    <div className="flex flex-wrap items-center gap-1.5 text-small text-ink-500">
      also moved:
      {learned.others.slice(0, 4).map((other) => {
        const at = controlOf(compiled, other);
        const key = candidateKey(other.source, other.sends);
        const name = at
          ? compiled.surfaces.find((s) => s.id === at.surface)?.profile.controls.find((c) => c.id === at.control)?.name
          : sendsWords(other, middleC);
        return (
          <span key={key} className="inline-flex items-center rounded-md bg-velvet-850 pl-2 text-ink-300">
            {at ? (
              <button
                type="button"
                className="hover:text-ink-100"
                onClick={() => actions.choose(at.surface, at.control)}
              >
                {name}
              </button>
            ) : (
              name
            )}
            <button
              type="button"
              aria-label={`Ignore ${name} when learning`}
              title="Ignore it when learning: it will not stand still"
              className="px-1.5 text-ink-500 hover:text-ink-100"
              onClick={() =>
                store.setState((s) => ({
                  ignored: new Set([...s.ignored, key]),
                  learned: s.learned ? { ...s.learned, others: s.learned.others.filter((o) => o !== other) } : null,
                }))
              }
            >
              ignore
            </button>
          </span>
        );
      })}
    </div>
  );
}
