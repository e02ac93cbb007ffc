import { Dialog } from "radix-ui";
import { Button, Key } from "../components/controls.tsx";
import { Segments } from "../components/Segments.tsx";
import { usePage, usePageStore } from "../live/store.ts";
import { KEYS } from "./keys.ts";
import { PLACES, type Place } from "./places.ts";
import { chooseTheme, THEMES, type Theme, useTheme } from "./theme.ts";

/** The keys of the application, and where its third-party notices are. */
export function HelpDialog({ place }: { place: Place }) {
  const store = usePageStore();
  const open = usePage((s) => s.helpOpen);
  const theme = useTheme();
  const { name, chooses } = PLACES[place];
  const here = KEYS.filter((k) => chooses || !k.chooses);
  return (
    <Dialog.Root open={open} onOpenChange={(on) => store.setState({ helpOpen: on })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-velvet-975/70" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[72px] left-1/2 z-50 grid max-h-[calc(100dvh-130px)] w-[480px] -translate-x-1/2 grid-rows-[auto_minmax(0,1fr)_auto_auto] rounded-2xl border border-velvet-600 bg-velvet-850 shadow-2xl"
        >
          <div className="flex items-center gap-3 px-5 pt-4 pb-3">
            <Dialog.Title className="flex-1 text-title font-semibold">Keys in {name}</Dialog.Title>
            <Dialog.Close asChild>
              <Button size="small" look="quiet">
                Close <Key>Esc</Key>
              </Button>
            </Dialog.Close>
          </div>
          <dl className="grid grid-cols-[1fr_auto] gap-y-0.5 overflow-y-auto px-5 pb-3">
            {here.map(({ key, shown, does }) => (
              <div key={does} className="col-span-2 grid grid-cols-subgrid items-center py-1">
                <dt className="text-ink-300">{does}</dt>
                <dd>
                  <Key>{shown ?? key.toUpperCase()}</Key>
                </dd>
              </div>
            ))}
          </dl>
          <div className="flex items-center justify-between border-t border-velvet-700 px-5 py-3">
            <span>
              Theme <small className="text-small text-ink-500">Run is always dark</small>
            </span>
            <Segments
              label="Theme"
              value={theme}
              options={Object.entries(THEMES) as [Theme, string][]}
              onChange={chooseTheme}
            />
          </div>
          <p className="border-t border-velvet-700 px-5 py-3 text-small text-ink-500">
            Velvet Hinge is made with the work of others:{" "}
            <a href="/notices.html" className="text-ink-300 underline hover:text-ink-100">
              third-party notices
            </a>
          </p>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
