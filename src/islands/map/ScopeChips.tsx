import { Popover } from "radix-ui";
import type { Mapping } from "../../core/format/show.ts";
import { scopeWords } from "../../words/mappings.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";

/** Where a mapping holds, behind a chip. */
export function ScopeChips({ mapping }: { mapping: Mapping }) {
  const show = useLive((l) => l.show);
  const actions = useActions();
  return (
    <Popover.Root>
      <Popover.Trigger className="inline-flex h-[26px] items-center gap-1.5 rounded-full bg-velvet-800 px-2.5 text-small text-ink-300 hover:bg-velvet-700">
        holds {scopeWords(mapping, show) === "everywhere" ? "" : "on "}
        <b className="font-semibold text-ink-100">{scopeWords(mapping, show)}</b>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={6}
          align="start"
          className="z-50 w-[300px] rounded-xl border border-velvet-600 bg-velvet-850 p-3.5 shadow-2xl"
        >
          <ScopeTicks
            scope={mapping}
            onChange={(set) => void actions.edit({ kind: "change-mapping", id: mapping.id, set })}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

export interface ScopeChange {
  layers?: string[];
  pages?: Mapping["pages"] | null;
}

interface ScopeProps {
  scope: Pick<Mapping, "layers" | "pages">;
  onChange(set: ScopeChange): void;
}

/** Layers and pages, each a list of ticks. None ticked = all. */
export function ScopeTicks({ scope, onChange }: ScopeProps) {
  const layers = useLive((l) => l.show.layers);
  const desk = useLive((l) => l.compiled.desks.find((d) => d.page));
  const values = useLive((l) => (desk ? l.values[desk.id] : undefined));
  const parameter = desk?.pageParameter;
  const names = desk?.states.get(parameter?.names ?? "");
  const pages = parameter
    ? Array.from({ length: parameter.to - parameter.from + 1 }, (_, i) => parameter.from + i)
    : [];
  const onPages = scope.pages?.in ?? [];
  return (
    <div className="grid gap-3">
      <fieldset className="grid gap-1.5">
        <legend className="mb-1 text-small text-ink-500">Layers (none ticked: every layer)</legend>
        {layers.map((l) => (
          <Tick
            key={l.id}
            label={l.name}
            checked={scope.layers.includes(l.id)}
            onChange={(on) =>
              onChange({ layers: on ? [...scope.layers, l.id] : scope.layers.filter((x) => x !== l.id) })
            }
          />
        ))}
      </fieldset>
      {desk ? (
        <fieldset className="grid grid-cols-2 gap-1.5">
          <legend className="mb-1 text-small text-ink-500">Pages of {desk.desk.name} (none ticked: every page)</legend>
          {pages.map((p, i) => (
            <Tick
              key={p}
              label={`${p} ${names ? (values?.value[names.base + i] ?? "") : ""}`}
              checked={onPages.includes(p)}
              onChange={(on) => {
                const next = on ? [...onPages, p].sort((a, b) => a - b) : onPages.filter((x) => x !== p);
                onChange({ pages: next.length > 0 ? { desk: desk.id, in: next } : null });
              }}
            />
          ))}
        </fieldset>
      ) : null}
    </div>
  );
}

function Tick({ label, checked, onChange }: { label: string; checked: boolean; onChange(on: boolean): void }) {
  return (
    <label className="flex min-w-0 cursor-pointer items-center gap-2 text-[12.5px]">
      <input
        type="checkbox"
        checked={checked}
        onChange={(e) => onChange(e.target.checked)}
        className="accent-brass-400"
      />
      <span className="overflow-hidden text-ellipsis whitespace-nowrap">{label}</span>
    </label>
  );
}
