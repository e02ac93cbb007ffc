import { type FormEvent, useState } from "react";
import type { Role } from "../../core/format/roles.ts";
import { Button, FIELD } from "../components/controls.tsx";
import { toast } from "../live/toast.ts";
import { askOrTell } from "./ask.ts";
import { MAY } from "./role-words.ts";

interface Props {
  role: Role;
  isSet: boolean;
  changed(): void;
}

/** A role, whether it has a passcode, and how it gets another. */
export function PasscodeRow({ role, isSet, changed }: Props) {
  const [open, setOpen] = useState(false);
  const [passcode, setPasscode] = useState("");
  const put = async (wanted: string | null) => {
    if ((await askOrTell("/api/access/passcode", "PUT", { role, passcode: wanted })) === null) return;
    toast(wanted === null ? `Nobody comes in to ${role} by a passcode now.` : `The passcode to ${role} is kept.`);
    setOpen(false);
    setPasscode("");
    changed();
  };
  const submit = (e: FormEvent) => {
    e.preventDefault();
    void put(passcode);
  };
  return (
    <li className="grid gap-2 rounded-[9px] bg-velvet-900 px-3 py-2">
      <div className="flex items-center gap-3">
        <b className="w-[42px] font-semibold">{role}</b>
        <span className="flex-1 text-ink-300">{MAY[role]}</span>
        <span className={`text-small ${isSet ? "text-good" : "text-ink-500"}`}>
          {isSet ? "has a passcode" : "no passcode"}
        </span>
        <Button size="small" aria-expanded={open} onClick={() => setOpen(!open)} aria-label={`Passcode to ${role}`}>
          {isSet ? "Change" : "Set one"}
        </Button>
      </div>
      {open ? (
        <form onSubmit={submit} className="flex items-center gap-2">
          <input
            type="password"
            autoComplete="new-password"
            aria-label={`New passcode to ${role}`}
            placeholder="8 characters or more"
            value={passcode}
            onChange={(e) => setPasscode(e.target.value)}
            className={`${FIELD} min-w-0 flex-1`}
          />
          <Button type="submit" size="small" look="primary">
            Keep it
          </Button>
          {isSet ? (
            <Button size="small" look="quiet" onClick={() => void put(null)}>
              Take it away
            </Button>
          ) : null}
        </form>
      ) : null}
      {open && isSet ? (
        <small className="text-small text-ink-500">Devices that are in to {role} have to come in again.</small>
      ) : null}
    </li>
  );
}
