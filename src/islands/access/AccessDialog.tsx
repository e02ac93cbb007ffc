import { Dialog } from "radix-ui";
import { useCallback, useEffect, useState } from "react";
import { ROLES } from "../../core/format/roles.ts";
import type { AccessState, LetIn } from "../../core/live/access-state.ts";
import { Button } from "../components/controls.tsx";
import { StateMark } from "../components/StateMark.tsx";
import { usePage, usePageStore } from "../live/store.ts";
import { ask, askOrTell } from "./ask.ts";
import { Pairing } from "./Pairing.tsx";
import { PasscodeRow } from "./PasscodeRow.tsx";

/** While it is open, who is in is asked for again this often, in ms. */
const LOOK_EVERY_MS = 3000;

/** Who may come in from elsewhere, how, and who is in now. */
export function AccessDialog() {
  const store = usePageStore();
  const open = usePage((s) => s.accessOpen);
  return (
    <Dialog.Root open={open} onOpenChange={(on) => store.setState({ accessOpen: on })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-velvet-975/70" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[64px] left-1/2 z-50 grid max-h-[calc(100dvh-96px)] w-[620px] -translate-x-1/2 content-start gap-4 overflow-y-auto rounded-2xl border border-velvet-600 bg-velvet-850 p-5 shadow-2xl"
        >
          <Dialog.Title className="text-title font-semibold">Who is let in</Dialog.Title>
          {open ? <Content close={() => store.setState({ accessOpen: false })} /> : null}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Content({ close }: { close(): void }) {
  const [state, setState] = useState<AccessState | null>(null);
  const look = useCallback(async () => {
    // Where nobody answers the page says so above all; what was seen last stays.
    const found = await ask<AccessState>("/api/access", "GET");
    if (found.ok) setState(found.data);
  }, []);
  useEffect(() => {
    void look();
    const timer = setInterval(() => void look(), LOOK_EVERY_MS);
    return () => clearInterval(timer);
  }, [look]);
  if (!state) return null;
  return (
    <>
      <Reach {...state} />
      {state.waysIn.length > 0 ? <Pairing waysIn={state.waysIn} /> : null}
      <section className="grid gap-2" aria-label="Passcodes">
        <h3 className="text-small font-semibold text-ink-300">Passcodes, one for each role</h3>
        <ul className="grid gap-1.5">
          {ROLES.map((role) => (
            <PasscodeRow key={role} role={role} isSet={state.passcodes.includes(role)} changed={() => void look()} />
          ))}
        </ul>
      </section>
      <section className="grid gap-2" aria-label="Let in now">
        <h3 className="text-small font-semibold text-ink-300">Devices that are let in</h3>
        <Sessions sessions={state.sessions} changed={() => void look()} />
      </section>
      <div className="flex justify-end">
        <Button look="quiet" onClick={close}>
          Done
        </Button>
      </div>
    </>
  );
}

function Reach({ waysIn, isSecure }: AccessState) {
  if (waysIn.length === 0)
    return (
      <p className="text-ink-300">
        Only this computer reaches the show now. To let others in, stop the program and start it with{" "}
        <code className="font-mono text-small text-ink-100">npm start -- --host 0.0.0.0</code>
      </p>
    );
  return (
    <div className="grid gap-1.5 text-ink-300">
      <p>
        Others reach the show at <b className="font-mono text-small text-ink-100 select-all">{waysIn[0]}</b>
        {waysIn.length > 1 ? ` and by ${waysIn.length - 1} other ${waysIn.length === 2 ? "name" : "names"}` : ""}.
        Whoever sits at this computer needs no passcode.
      </p>
      {isSecure ? (
        <StateMark shape="tick" tone="good">
          what goes over the network is encrypted
        </StateMark>
      ) : (
        <StateMark shape="broken-ring" tone="care">
          not encrypted: who listens to the network reads passcodes. --cert and --key change that
        </StateMark>
      )}
    </div>
  );
}

function Sessions({ sessions, changed }: { sessions: readonly LetIn[]; changed(): void }) {
  const end = async (id: string) => {
    await askOrTell("/api/access/session", "DELETE", { id });
    changed();
  };
  if (sessions.length === 0) return <p className="text-ink-500">Nobody from elsewhere has come in.</p>;
  return (
    <ul className="grid gap-1.5">
      {sessions.map((s) => (
        <li key={s.id} className="flex items-center gap-3 rounded-[9px] bg-velvet-900 px-3 py-2" data-session={s.id}>
          <b className="w-[42px] font-semibold">{s.role}</b>
          <span className="min-w-0 flex-1 overflow-hidden text-ellipsis whitespace-nowrap">
            {s.device}
            {s.isOwn ? <span className="text-ink-500"> · this one</span> : null}
          </span>
          <span className="font-mono text-small text-ink-300">{s.address.replace(/^::ffff:/, "")}</span>
          <span className="w-[92px] text-right text-small text-ink-500">{agoWords(Date.now() - s.seenAtMs)}</span>
          <Button size="small" onClick={() => void end(s.id)} aria-label={`End ${s.device}`}>
            End
          </Button>
        </li>
      ))}
    </ul>
  );
}

/** How long ago somebody was there last. */
export function agoWords(ms: number): string {
  const minutes = Math.floor(ms / 60_000);
  if (minutes < 1) return "here now";
  if (minutes < 60) return `${minutes} min ago`;
  const hours = Math.floor(minutes / 60);
  return hours < 48 ? `${hours} h ago` : `${Math.floor(hours / 24)} days ago`;
}
