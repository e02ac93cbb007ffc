import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { sendsWords } from "../../words/mappings.ts";
import { Key } from "../components/controls.tsx";
import { useActions } from "../live/actions.ts";
import type { LiveState } from "../live/apply-changes.ts";
import { useLive, useLiveEqual, usePage, usePageStore } from "../live/store.ts";
import { controlView } from "../surface/control-view.ts";
import { KEYS } from "./keys.ts";
import { FIRST_PLACE, PLACE_LIST, PLACES, type Place } from "./places.ts";
import { chooseTheme, THEMES, type Theme } from "./theme.ts";

/** Everything that can be done or found, by typing. */
export function CommandPalette({ place, go }: { place: Place; go(place: Place): void }) {
  const store = usePageStore();
  const open = usePage((s) => s.paletteOpen);
  const close = () => store.setState({ paletteOpen: false });
  return (
    <Dialog.Root open={open} onOpenChange={(on) => store.setState({ paletteOpen: on })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-velvet-975/70" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[110px] left-1/2 z-50 w-[560px] -translate-x-1/2 overflow-hidden rounded-2xl border border-velvet-600 bg-velvet-850 shadow-2xl"
        >
          <Dialog.Title className="sr-only">Find anything</Dialog.Title>
          {open ? <Entries close={close} place={place} go={go} /> : null}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

const ITEM =
  "flex cursor-pointer items-center gap-3 rounded-lg px-3 py-2 data-[selected=true]:bg-velvet-700 [&_small]:text-[11.5px] [&_small]:text-ink-500";

/** Every control as it is found: by its surface, its name, what it does, and what it sends. */
function controlsOf(live: LiveState) {
  return live.compiled.surfaces.flatMap((surface, s) =>
    surface.profile.controls.map((control, c) => {
      const { label } = controlView(live, s, c);
      const sends = sendsWords(control, live.show.settings.middleC);
      const value = `${surface.surface.name} ${control.name} ${label} ${sends}`;
      return { surface: surface.id, control: control.id, name: control.name, label, sends, value };
    }),
  );
}

function Entries({ close, place, go }: { close(): void; place: Place; go(place: Place): void }) {
  const store = usePageStore();
  const actions = useActions();
  const history = useLive((l) => l.history);
  const mayEdit = usePage((s) => s.who.role === "edit");
  const controls = useLiveEqual(controlsOf);
  const run = (work: () => void) => () => {
    close();
    work();
  };
  return (
    <Command label="Find anything" className="grid">
      <Command.Input
        autoFocus
        placeholder="A place, a control, something to do …"
        className="border-b border-velvet-700 bg-transparent px-4 py-3.5 text-lead outline-none placeholder:text-ink-500"
      />
      <Command.List className="max-h-[420px] overflow-y-auto p-2 [&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:py-1.5 [&_[cmdk-group-heading]]:text-small [&_[cmdk-group-heading]]:text-ink-500">
        <Command.Empty className="p-4 text-ink-500">Nothing is called that here.</Command.Empty>
        <Command.Group heading="Places">
          {PLACE_LIST.map((p) => (
            <Command.Item key={p.id} value={`go to ${p.name}`} className={ITEM} onSelect={run(() => go(p.id))}>
              <span className="flex-1">{p.name}</span>
              <Key>{p.key}</Key>
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="To do">
          <Command.Item className={ITEM} onSelect={run(() => void actions.undo())} disabled={history.undo === null}>
            <span className="flex-1">Undo{history.undo ? `: ${history.undo}` : ""}</span>
            <Key>Ctrl Z</Key>
          </Command.Item>
          <Command.Item className={ITEM} onSelect={run(() => void actions.redo())} disabled={history.redo === null}>
            <span className="flex-1">Redo{history.redo ? `: ${history.redo}` : ""}</span>
            <Key>Ctrl Shift Z</Key>
          </Command.Item>
          {KEYS.filter((k) => !k.onlyKey).map((k) => (
            <Command.Item
              key={k.does}
              value={k.does}
              className={ITEM}
              onSelect={run(() => {
                // What is done to a control is done where controls are chosen.
                if (k.chooses && !PLACES[place].chooses) go(FIRST_PLACE);
                k.act({ store, actions, go, place: k.chooses ? FIRST_PLACE : place });
              })}
            >
              <span className="flex-1">{k.does}</span>
              <Key>{k.shown ?? k.key.toUpperCase()}</Key>
            </Command.Item>
          ))}
          <Command.Item className={ITEM} onSelect={run(() => actions.send({ kind: "redraw" }))}>
            <span className="flex-1">Draw lights again</span>
          </Command.Item>
          <Command.Item className={ITEM} onSelect={run(() => actions.send({ kind: "release-all" }))}>
            <span className="flex-1">Release everything held</span>
          </Command.Item>
          <Command.Item className={ITEM} onSelect={run(() => store.setState({ accessOpen: true }))} disabled={!mayEdit}>
            <span className="flex-1">Who is let in</span>
          </Command.Item>
          <Command.Item className={ITEM} onSelect={run(() => store.setState({ labelsOpen: true }))}>
            <span className="flex-1">Print labels</span>
          </Command.Item>
          {(Object.keys(THEMES) as Theme[]).map((theme) => (
            <Command.Item
              key={theme}
              value={`theme drawn ${THEMES[theme]}`}
              className={ITEM}
              onSelect={run(() => chooseTheme(theme))}
            >
              <span className="flex-1">Theme: {THEMES[theme]}</span>
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Controls">
          {controls.map(({ surface, control, name, label, sends, value }) => (
            <Command.Item
              key={`${surface} ${control}`}
              value={value}
              className={ITEM}
              onSelect={run(() => {
                go(FIRST_PLACE);
                actions.choose(surface, control);
              })}
            >
              <span className="flex-1">
                {name} {label ? `· ${label}` : ""}
              </span>
              <small className="font-mono">{sends}</small>
            </Command.Item>
          ))}
        </Command.Group>
      </Command.List>
    </Command>
  );
}
