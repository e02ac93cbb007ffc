import { useRef } from "react";
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import { emptySurfaceKind } from "../../core/format/empty-surface.ts";
import { HOUSE } from "../../core/format/givens.ts";
import type { Show } from "../../core/format/show.ts";
import type { SurfaceProfile } from "../../core/format/surface-profile.ts";
import { DESK_PROFILE_FORMAT, NEWEST } from "../../core/format/versions.ts";
import { problemWords } from "../../words/problems.ts";
import { Button } from "../components/controls.tsx";
import { FileInput } from "../components/FileInput.tsx";
import { Select } from "../components/Select.tsx";
import { readProfile } from "../documents/files.ts";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive, usePageStore } from "../live/store.ts";
import { toast } from "../live/toast.ts";

const NEW_DESK = "new-desk";
const NEW_SURFACE = "new-surface";

/** Kinds of desks and surfaces of one's own: made from nothing, from one that ships, or from a file. */
export function ProfileList() {
  const store = usePageStore();
  const actions = useActions();
  const own = useLive((l) => l.show.profiles);
  const shipped = useLive((l) => l.shipped);
  const file = useRef<HTMLInputElement>(null);
  const put = async (side: "desk" | "surface", profile: DeskProfile | SurfaceProfile) => {
    const done =
      side === "desk"
        ? await actions.edit({ kind: "put-desk-profile", profile: profile as DeskProfile })
        : await actions.edit({ kind: "put-surface-profile", profile: profile as SurfaceProfile });
    if (done) store.setState({ editing: { side, id: profile.id } });
  };
  const make = (choice: string) => {
    if (choice === NEW_DESK) return void put("desk", emptyDesk());
    if (choice === NEW_SURFACE) return void put("surface", emptySurface());
    const [side, id] = choice.split(" ") as ["desk" | "surface", string];
    const from = side === "desk" ? shipped.desks.get(id) : shipped.surfaces.get(id);
    if (from) void put(side, { ...structuredClone(from), id: newId("k"), name: `${from.name}, ours` });
  };
  const open = async (chosen: File) => {
    const { side, read, document } = readProfile(await chosen.text());
    if (!read.ok) {
      toast.error("Not a profile that can be used", {
        description: read.problems
          .slice(0, 4)
          .map((p) => problemWords(p, { document }))
          .join(" "),
        duration: 8000,
      });
      return;
    }
    const taken = side === "desk" ? shipped.desks : shipped.surfaces;
    await put(side, taken.has(read.value.id) ? { ...read.value, id: newId("k") } : read.value);
  };
  const rows = rowsOf(own);
  return (
    <div className="grid gap-2 rounded-[10px] bg-velvet-900 p-2.5 text-small">
      {rows.length === 0 ? (
        <span className="text-ink-500">
          Your desk or surface is not in the list? Describe it here; it works at once.
        </span>
      ) : null}
      {rows.map((r) => (
        <button
          key={`${r.side} ${r.id}`}
          type="button"
          className="flex items-baseline gap-2 rounded-md bg-velvet-800 px-2 py-1.5 text-left hover:bg-velvet-700"
          onClick={() => store.setState({ editing: { side: r.side, id: r.id } })}
        >
          <b className="min-w-0 flex-1 overflow-hidden text-ellipsis whitespace-nowrap">{r.name}</b>
          <span className="text-tiny text-ink-500">
            {r.side}, {r.what}
          </span>
        </button>
      ))}
      <div className="flex flex-wrap gap-2">
        <Select
          label="Make a profile"
          value=""
          placeholder="Make one …"
          options={[
            { value: NEW_DESK, label: "a desk, from nothing" },
            { value: NEW_SURFACE, label: "a surface, from nothing" },
            ...[...shipped.desks.values()]
              .filter((p) => p.id !== HOUSE)
              .map((p) => ({ value: `desk ${p.id}`, label: `like ${p.name}` })),
            ...[...shipped.surfaces.values()].map((p) => ({ value: `surface ${p.id}`, label: `like ${p.name}` })),
          ]}
          onChange={make}
          className="h-[26px] px-2.5"
        />
        <Button size="small" onClick={() => file.current?.click()}>
          Import
        </Button>
        <FileInput ref={file} label="Profile document" onFile={(chosen) => void open(chosen)} />
      </div>
    </div>
  );
}

/** The show's own kinds as they are listed, desks first. */
function rowsOf(own: Show["profiles"]) {
  return [
    ...(own?.desks ?? []).map((p) => ({
      side: "desk" as const,
      id: p.id,
      name: p.name,
      what: p.functions.length === 1 ? "1 function" : `${p.functions.length} functions`,
    })),
    ...(own?.surfaces ?? []).map((p) => ({
      side: "surface" as const,
      id: p.id,
      name: p.name,
      what: p.controls.length === 1 ? "1 control" : `${p.controls.length} controls`,
    })),
  ];
}

function emptyDesk(): DeskProfile {
  return {
    format: DESK_PROFILE_FORMAT,
    version: NEWEST[DESK_PROFILE_FORMAT],
    id: newId("k"),
    name: "A desk of ours",
    kind: "lighting",
    about: "",
    wire: {
      kind: "osc",
      port: 9000,
      checkAtDesk: ["remote control is switched on", "it listens on the port shown here"],
    },
    parameters: [],
    states: [],
    functions: [],
    query: [],
  };
}

function emptySurface(): SurfaceProfile {
  return emptySurfaceKind(newId("k"), "A surface of ours", { width: 8, height: 8 });
}
