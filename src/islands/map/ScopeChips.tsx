import { Popover } from "radix-ui";
import type { Mapping } from "../../core/format/show.ts";
import { scopeWords } from "../../words/mappings.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";

/** Where a mapping holds: layers and pages, each a list of ticks. None ticked = all. */
export function ScopeChips({ mapping }: { mapping: Mapping }) {
  const show = useLive((l) => l.show);
  const desk = useLive((l) => l.compiled.desks.find((d) => d.page));
  const values = useLive((l) => (desk ? l.values[desk.id] : undefined));
  const actions = useActions();
  const change = (set: { layers?: string[]; pages?: Mapping["pages"] | null }) =>
    void actions.edit({ kind: "change-mapping", id: mapping.id, set });
  const parameter = desk?.pageParameter;
  const names = desk?.states.get(parameter?.names ?? "");
  const pages = parameter
    ? Array.from({ length: parameter.to - parameter.from + 1 }, (_, i) => parameter.from + i)
    : [];
  const onPages = mapping.pages?.in ?? [];
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
          className="z-50 grid w-[300px] gap-3 rounded-xl border border-velvet-600 bg-velvet-850 p-3.5 shadow-2xl"
        >
          <fieldset className="grid gap-1.5">
            <legend className="mb-1 text-small text-ink-500">Layers (none ticked: every layer)</legend>
            {show.layers.map((l) => (
              <Tick
                key={l.id}
                label={l.name}
                checked={mapping.layers.includes(l.id)}
                onChange={(on) =>
                  change({ layers: on ? [...mapping.layers, l.id] : mapping.layers.filter((x) => x !== l.id) })
                }
              />
            ))}
          </fieldset>
          {desk ? (
            <fieldset className="grid grid-cols-2 gap-1.5">
              <legend className="mb-1 text-small text-ink-500">
                Pages of {desk.desk.name} (none ticked: every page)
              </legend>
              {pages.map((p, i) => (
                <Tick
                  key={p}
                  label={`${p} ${names ? (values?.value[names.base + i] ?? "") : ""}`}
                  checked={onPages.includes(p)}
                  onChange={(on) => {
                    const next = on ? [...onPages, p].sort((a, b) => a - b) : onPages.filter((x) => x !== p);
                    change({ pages: next.length > 0 ? { desk: desk.id, in: next } : null });
                  }}
                />
              ))}
            </fieldset>
          ) : null}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
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
