/** A surface that is drawn as it is touched: its controls on a board with holes, to be dragged to where they lie. */
import { useActions } from "../live/actions.ts";
import { useLive, usePage } from "../live/store.ts";
import { Board } from "../profiles/Board.tsx";

export function TeachBoard({ surface }: { surface: string }) {
  const actions = useActions();
  const profile = useLive((l) => {
    const kind = l.show.surfaces.find((s) => s.id === surface)?.profile;
    return l.show.profiles?.surfaces.find((p) => p.id === kind);
  });
  const picked = usePage((s) => (s.chosen?.surface === surface ? s.chosen.control : null));
  if (!profile) return null;
  return (
    <>
      <p className="text-ink-500">
        {profile.controls.length === 0
          ? "Of no known kind: it is drawn as you touch it."
          : "Drag each control to where it lies; arrows move the chosen one by half a pad."}
      </p>
      <Board
        profile={profile}
        holes
        picked={picked}
        onPick={(control) => actions.choose(surface, control)}
        // Only what was moved: what hands add meanwhile stays.
        change={(next) => {
          const moved = next.controls.find((c) => profile.controls.find((x) => x.id === c.id)?.box !== c.box);
          if (moved)
            void actions.edit({ kind: "change-control", profile: profile.id, id: moved.id, set: { box: moved.box } });
        }}
      />
    </>
  );
}
