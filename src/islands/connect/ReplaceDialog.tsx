import { useMemo, useState } from "react";
import { proposeControls, proposeFunctions, type ReplaceRow } from "../../core/edit/replace.ts";
import { HOUSE } from "../../core/format/givens.ts";
import type { Desk, Surface } from "../../core/format/show.ts";
import { expandBanks } from "../../core/surface/internal-banks.ts";
import { FIELD } from "../components/controls.tsx";
import { Field } from "../components/Field.tsx";
import { FormDialog } from "../components/FormDialog.tsx";
import { Select } from "../components/Select.tsx";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";

const NOTHING = "nothing";

interface SideProps {
  title: string;
  kinds: readonly { value: string; label: string }[];
  kind: string;
  onKind(kind: string): void;
  /** What the new kind has, to choose from. */
  options: readonly { value: string; label: string }[];
  rows: readonly ReplaceRow[];
  /** "mapping" or "action": what stands on a row. */
  unit: string;
  onOpenChange(open: boolean): void;
  onReplace(becomes: Record<string, string | null>): Promise<boolean>;
}

/** Old and new side by side, before anything changes. */
function SideBySide({ title, kinds, kind, onKind, options, rows, unit, onOpenChange, onReplace }: SideProps) {
  const [own, setOwn] = useState<Record<string, string | null>>({});
  const becomes = Object.fromEntries(rows.map((r) => [r.id, r.id in own ? own[r.id]! : r.to]));
  const lost = rows.filter((r) => becomes[r.id] === null);
  return (
    <FormDialog title={title} submit="Replace it" open onOpenChange={onOpenChange} onSubmit={() => onReplace(becomes)}>
      <Field label="by" hint="what is used is proposed below; nothing changes before you say so">
        <Select label="Replaced by" value={kind} options={kinds} onChange={onKind} className={FIELD} />
      </Field>
      <div className="grid max-h-[340px] gap-1 overflow-y-auto" data-proposal>
        {rows.length === 0 ? <p className="text-small text-ink-500">Nothing stands on it yet.</p> : null}
        {rows.map((r) => (
          <div key={r.id} className="grid grid-cols-[minmax(0,1fr)_16px_170px] items-center gap-2 text-small">
            <span className="overflow-hidden text-ellipsis whitespace-nowrap">
              {r.name} <span className="text-ink-500">{r.uses === 1 ? `one ${unit}` : `${r.uses} ${unit}s`}</span>
            </span>
            <span className="text-warm">▸</span>
            {/* The browser's own list: dozens of rows with dozens of choices each would take it seconds otherwise. */}
            <select
              aria-label={`${r.name} becomes`}
              value={becomes[r.id] ?? NOTHING}
              onChange={(e) => setOwn({ ...own, [r.id]: e.target.value === NOTHING ? null : e.target.value })}
              className="h-[26px] rounded-md bg-velvet-800 px-2 text-small text-ink-100"
            >
              <option value={NOTHING}>nothing: unmapped</option>
              {options.map((o) => (
                <option key={o.value} value={o.value}>
                  {o.label}
                </option>
              ))}
            </select>
          </div>
        ))}
      </div>
      <p role="status" className={`text-small ${lost.length > 0 ? "text-care" : "text-ink-500"}`}>
        {lost.length === 0
          ? "Everything has a place. It can be undone."
          : `${lost.length} without a place: what stands on them is unmapped. It can be undone.`}
      </p>
    </FormDialog>
  );
}

export function ReplaceSurface({ surface, onOpenChange }: { surface: Surface; onOpenChange(open: boolean): void }) {
  const actions = useActions();
  const show = useLive((l) => l.show);
  const profiles = useLive((l) => l.surfaceProfiles);
  const others = [...profiles.values()].filter((p) => p.id !== surface.profile);
  const [kind, setKind] = useState(others[0]?.id ?? surface.profile);
  const next = profiles.get(kind)!;
  const rows = useMemo(
    () => proposeControls(show, surface.id, profiles.get(surface.profile)!, next),
    [show, surface, profiles, next],
  );
  return (
    <SideBySide
      key={kind}
      title={`Replace ${surface.name}`}
      kinds={others.map((p) => ({ value: p.id, label: p.name }))}
      kind={kind}
      onKind={setKind}
      options={expandBanks(next).controls.map((c) => ({ value: c.id, label: c.name }))}
      rows={rows}
      unit="mapping"
      onOpenChange={onOpenChange}
      onReplace={(becomes) => actions.edit({ kind: "replace-surface", id: surface.id, profile: kind, becomes })}
    />
  );
}

export function ReplaceDesk({ desk, onOpenChange }: { desk: Desk; onOpenChange(open: boolean): void }) {
  const actions = useActions();
  const show = useLive((l) => l.show);
  const profiles = useLive((l) => l.deskProfiles);
  const others = [...profiles.values()].filter((p) => p.id !== desk.profile && p.id !== HOUSE);
  const [kind, setKind] = useState(others[0]?.id ?? desk.profile);
  const next = profiles.get(kind)!;
  const rows = useMemo(
    () => proposeFunctions(show, desk.id, profiles.get(desk.profile)!, next),
    [show, desk, profiles, next],
  );
  return (
    <SideBySide
      key={kind}
      title={`Replace ${desk.name}`}
      kinds={others.map((p) => ({ value: p.id, label: p.name }))}
      kind={kind}
      onKind={setKind}
      options={next.functions.map((f) => ({ value: f.id, label: f.name }))}
      rows={rows}
      unit="action"
      onOpenChange={onOpenChange}
      onReplace={(becomes) => actions.edit({ kind: "replace-desk", id: desk.id, profile: kind, becomes })}
    />
  );
}
