import { NumberField } from "../components/NumberField.tsx";
import { type Armed, bindingsNow, queue } from "../live/armed.ts";
import { numbersName } from "../live/number-name.ts";
import { useLive, usePageStore } from "../live/store.ts";

/** The numbers that come next: the first is armed, any other is armed by a press. */
export function ArmedQueue({ armed }: { armed: Armed }) {
  const store = usePageStore();
  const { counts } = armed;
  const numbers = queue(armed);
  if (!counts) return null;
  return (
    <section className="grid gap-2" aria-label="Next ones">
      <div className="flex items-center justify-between gap-3 text-small text-ink-500">
        <b className="font-semibold text-ink-300">Next ones queue up</b>
        <span className="flex items-center gap-2">
          {counts.parameter} counts up by
          <NumberField
            label="Counts up by"
            value={armed.step}
            min={0}
            max={99}
            onCommit={(step) => store.setState({ armed: { ...armed, step: Math.round(step) } })}
          />
        </span>
      </div>
      {numbers.length === 0 ? (
        <p className="rounded-lg bg-care-ground px-3 py-2 text-care">
          {counts.to} was the last {counts.parameter}. Nothing is armed.
        </p>
      ) : (
        <ol className="grid grid-cols-5 gap-2">
          {numbers.map((n, i) => (
            <Queued key={n} armed={armed} number={n} isNext={i === 0} />
          ))}
        </ol>
      )}
    </section>
  );
}

function Queued({ armed, number, isNext }: { armed: Armed; number: number; isNext: boolean }) {
  const store = usePageStore();
  const { counts } = armed;
  const name = useLive((l) =>
    counts
      ? numbersName(l, armed.desk, armed.function, bindingsNow({ ...armed, number }), counts.parameter)
      : undefined,
  );
  return (
    <li>
      <button
        type="button"
        aria-current={isNext ? "step" : undefined}
        title={isNext ? "The next touch is given this" : "Give this next"}
        onClick={() => store.setState({ armed: { ...armed, number } })}
        className={`grid h-[62px] w-full content-start gap-0.5 rounded-lg px-2 py-1.5 text-left ${
          isNext ? "bg-armed outline-2 outline-brass-400" : "bg-velvet-850 hover:bg-velvet-800"
        }`}
      >
        <b className="text-lead font-semibold tabular-nums">{number}</b>
        <span className="narrow overflow-hidden text-small text-ellipsis whitespace-nowrap text-ink-500">
          {name ?? ""}
        </span>
      </button>
    </li>
  );
}
