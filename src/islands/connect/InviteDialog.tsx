import { clsx } from "clsx";
import { useState } from "react";
import type { NetworkSession, PeerAddress } from "../../core/format/show.ts";
import { TextField } from "../components/controls.tsx";
import { Field } from "../components/Field.tsx";
import { FormDialog } from "../components/FormDialog.tsx";
import { useLive } from "../live/store.ts";

const USUAL_PORT = 5004;

interface Props {
  session: NetworkSession;
  onOpenChange(open: boolean): void;
  onInvite(address: PeerAddress): Promise<boolean>;
}

/** Whom to invite: one that was found on the network, or one by its address where nothing is found by itself. */
export function InviteDialog({ session, onOpenChange, onInvite }: Props) {
  const found = useLive((l) => l.found);
  const [address, setAddress] = useState("");
  const isIn = (a: PeerAddress) => session.invites.some((i) => i.host === a.host && i.port === a.port);
  const choices = found.filter((f) => !isIn(f));
  const { host, port } = addressFrom(address);
  return (
    <FormDialog
      title={`Invite to ${session.name}`}
      submit="Invite it"
      open
      onOpenChange={onOpenChange}
      onSubmit={() => onInvite({ host, port })}
    >
      {choices.length > 0 ? (
        <Field label="found">
          <fieldset className="grid gap-1" aria-label="Found on the network">
            {choices.map((f) => {
              const text = `${f.host}:${f.port}`;
              return (
                <button
                  key={`${f.name} ${text}`}
                  type="button"
                  aria-pressed={address === text}
                  onClick={() => setAddress(text)}
                  className={clsx(
                    "flex items-baseline justify-between gap-3 rounded-lg border px-2.5 py-1.5 text-left text-[12.5px]",
                    address === text ? "border-brass-400 bg-brass-400/15" : "border-velvet-700 hover:bg-velvet-700",
                  )}
                >
                  <span className="min-w-0 overflow-hidden text-ellipsis whitespace-nowrap">{f.name}</span>
                  <span className="font-mono text-small text-ink-300">{text}</span>
                </button>
              );
            })}
          </fieldset>
        </Field>
      ) : (
        <p className="text-ink-500">Nothing is announced on this network right now. An address works all the same.</p>
      )}
      <Field label="address" hint={`and port, e.g. 192.168.1.20:${USUAL_PORT}; the first of its two ports`}>
        <TextField
          label="Address"
          value={address}
          onChange={(e) => setAddress(e.target.value)}
          className="font-mono"
          required
        />
      </Field>
    </FormDialog>
  );
}

/** What was typed; a port that is no number is refused by the edit, with a sentence. */
function addressFrom(text: string): PeerAddress {
  const [host = "", port] = text.trim().split(":");
  return { host, port: port === undefined ? USUAL_PORT : Number(port) };
}
