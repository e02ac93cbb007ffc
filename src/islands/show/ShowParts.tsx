import { Dialog } from "radix-ui";
import { useMemo, useState } from "react";
import { adviceFor } from "../../core/mapping/advice.ts";
import { Button, Key } from "../components/controls.tsx";
import { type Sheet, TabSheet } from "../components/TabSheet.tsx";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { BankList } from "./BankList.tsx";
import { BundleList } from "./BundleList.tsx";
import { CheckList } from "./CheckList.tsx";
import { GroupList } from "./GroupList.tsx";
import { LayerList } from "./LayerList.tsx";
import { PageList } from "./PageList.tsx";
import { RouteList } from "./RouteList.tsx";
import { TimesFields } from "./TimesFields.tsx";
import { VariableList } from "./VariableList.tsx";

/** What mappings stand on beside surfaces and desks: layers, bundles, pages, groups, banks, variables, routes, times, and the checks. */
export function ShowParts() {
  const store = usePageStore();
  const open = usePage((s) => s.partsOpen);
  return (
    <Dialog.Root open={open} onOpenChange={(on) => store.setState({ partsOpen: on })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-velvet-975/70" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[72px] left-1/2 z-40 grid max-h-[calc(100dvh-130px)] w-[860px] max-w-[calc(100vw-24px)] -translate-x-1/2 grid-rows-[auto_1fr] rounded-2xl border border-velvet-600 bg-velvet-850 shadow-2xl"
        >
          <div className="flex items-center gap-3 px-5 pt-4 pb-3">
            <Dialog.Title className="flex-1 text-title font-semibold">Layers and more</Dialog.Title>
            <Dialog.Close asChild>
              <Button look="quiet">
                Close <Key>Esc</Key>
              </Button>
            </Dialog.Close>
          </div>
          {open ? <Parts /> : null}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Parts() {
  const show = useLive((l) => l.show);
  const compiled = useLive((l) => l.compiled);
  const checks = useMemo(() => adviceFor(compiled), [compiled]);
  const [seen, setSeen] = useState(() => (checks.some((c) => c.severity === "fault") ? "checks" : "layers"));
  const sheets: Sheet[] = [
    { id: "layers", name: "Layers", count: show.layers.length, body: <LayerList /> },
    { id: "bundles", name: "Bundles", count: show.bundles?.length ?? 0, body: <BundleList /> },
    { id: "pages", name: "Pages", body: <PageList /> },
    { id: "groups", name: "Groups", count: show.groups?.length ?? 0, body: <GroupList /> },
    { id: "banks", name: "Banks", count: show.banks?.length ?? 0, body: <BankList /> },
    { id: "variables", name: "Variables", count: show.variables?.length ?? 0, body: <VariableList /> },
    { id: "routes", name: "Routes", count: show.routes?.length ?? 0, body: <RouteList /> },
    { id: "times", name: "Times", body: <TimesFields /> },
    {
      id: "checks",
      name: "Checks",
      count: checks.length,
      body: <CheckList advice={checks} toRoutes={() => setSeen("routes")} />,
    },
  ];
  return <TabSheet label="Parts of the show" sheets={sheets} seen={seen} onSeen={setSeen} />;
}
