import { type FormEvent, useEffect, useRef, useState } from "react";
import type { Role } from "../../core/format/roles.ts";
import { Button } from "../components/controls.tsx";
import { ask } from "./ask.ts";

interface Props {
  /** Where to go once one is in; "" = where the role works. */
  to: string;
  /** This is the computer that the program runs on: it needs no passcode. */
  isHere: boolean;
}

/** Large enough for a finger. */
const FIELD_LARGE =
  "h-11 rounded-lg border border-velvet-700 bg-velvet-950 px-3 text-lead text-ink-100 placeholder:text-ink-500";

/** The door: a passcode, or the pairing code that was scanned and stands behind the # of the address. */
export function EnterForm({ to, isHere }: Props) {
  // The server does not see what stands there, and must draw the same as the browser draws first.
  const [pairing, setPairing] = useState("");
  // What is typed is read when it is sent: what somebody typed before this ran here must not be lost.
  const passcode = useRef<HTMLInputElement>(null);
  const device = useRef<HTMLInputElement>(null);
  // Until it runs here, the button would send the form as browsers do by themselves.
  const [busy, setBusy] = useState(true);
  const [refusal, setRefusal] = useState("");
  useEffect(() => {
    setPairing(location.hash.slice(1));
    setBusy(false);
  }, []);
  const enter = async (e: FormEvent) => {
    e.preventDefault();
    setBusy(true);
    const name = device.current?.value ?? "";
    const asked = await ask<{ role: Role }>("/api/enter", "POST", {
      ...(pairing ? { pairing } : { passcode: passcode.current?.value ?? "" }),
      device: name,
    });
    if (asked.ok) {
      location.replace(to || (asked.data.role === "edit" ? "/map" : "/run"));
      return;
    }
    setBusy(false);
    setRefusal(asked.sentence);
    // A pairing code works once: from here on it is the passcode.
    setPairing("");
    history.replaceState(null, "", location.pathname + location.search);
  };
  return (
    <main className="grid h-full place-items-center p-5">
      <form
        onSubmit={(e) => void enter(e)}
        className="grid w-full max-w-[400px] gap-4 rounded-2xl border border-velvet-600 bg-velvet-850 p-6 shadow-2xl"
      >
        <div className="flex items-center gap-3">
          <img src="/mark.svg" alt="" className="h-[34px] w-[34px]" />
          <div>
            <h1 className="text-head font-semibold">Velvet Hinge</h1>
            <p className="text-small text-ink-300">
              {pairing ? "A pairing code lets this device in." : "Come in by the passcode of this show."}
            </p>
          </div>
        </div>
        {isHere ? (
          <p className="rounded-[9px] bg-velvet-900 px-3 py-2 text-ink-300">
            You sit at the computer that the show runs on, and need no passcode.{" "}
            <a href="/map" className="text-brass-300 underline">
              Go to the show
            </a>
          </p>
        ) : null}
        {pairing ? null : (
          <label className="grid gap-1">
            <span className="text-small text-ink-300">Passcode</span>
            <input
              type="password"
              autoComplete="current-password"
              required
              maxLength={200}
              ref={passcode}
              className={FIELD_LARGE}
            />
          </label>
        )}
        <label className="grid gap-1">
          <span className="text-small text-ink-300">What this device is called, for whoever looks who is in</span>
          <input type="text" maxLength={60} placeholder="Tablet at the mixer" ref={device} className={FIELD_LARGE} />
        </label>
        <p role="alert" className="min-h-[36px] text-alert-ink">
          {refusal}
        </p>
        <Button type="submit" look="primary" size="large" disabled={busy} className="justify-center">
          {busy ? "One moment …" : "Come in"}
        </Button>
      </form>
    </main>
  );
}
