import { useState } from "react";
import { encode } from "uqr";
import type { Role } from "../../core/format/roles.ts";
import { Button } from "../components/controls.tsx";
import { Select } from "../components/Select.tsx";
import { askOrTell } from "./ask.ts";
import { MAY } from "./role-words.ts";

interface Offered {
  readonly token: string;
  readonly untilMs: number;
}

/** Lets in one device, once, without a passcode: it scans a code, or opens an address. */
export function Pairing({ waysIn }: { waysIn: readonly string[] }) {
  const [role, setRole] = useState<Role>("run");
  const [way, setWay] = useState(waysIn[0] ?? "");
  const [offered, setOffered] = useState<Offered | null>(null);
  const offer = async () => setOffered(await askOrTell<Offered>("/api/access/pairing", "POST", { role }));
  const address = offered && `${way}/enter#${offered.token}`;
  return (
    <section className="grid gap-2" aria-label="Let a device in">
      <h3 className="text-small font-semibold text-ink-300">Let one device in, without a passcode</h3>
      <div className="flex gap-4">
        {address ? <Code text={address} /> : null}
        <div className="grid min-w-0 flex-1 content-start gap-2">
          <div className="flex items-center gap-2">
            <span className="text-ink-300">to</span>
            <Select
              label="Role"
              value={role}
              options={(["look", "run", "edit"] as const).map((r) => ({ value: r, label: r }))}
              onChange={(r) => {
                setRole(r);
                setOffered(null);
              }}
            />
            {waysIn.length > 1 ? (
              <>
                <span className="text-ink-300">at</span>
                <Select
                  label="Address"
                  value={way}
                  options={waysIn.map((w) => ({ value: w, label: w.replace(/^https?:\/\//, "") }))}
                  onChange={setWay}
                />
              </>
            ) : null}
            <Button size="small" onClick={() => void offer()}>
              {offered ? "Another code" : "Show a code"}
            </Button>
          </div>
          {address ? (
            <>
              <span className="text-ink-300">Scan it with the device, or open there:</span>
              <code className="font-mono text-small break-all text-ink-100 select-all" data-pairing>
                {address}
              </code>
              <span className="text-small text-ink-500">
                Good for one device, until{" "}
                {new Date(offered.untilMs).toLocaleTimeString([], {
                  hour: "2-digit",
                  minute: "2-digit",
                  hour12: false,
                })}
                .
              </span>
            </>
          ) : (
            <span className="text-small text-ink-500">
              Whoever comes in to {role} {MAY[role]}.
            </span>
          )}
        </div>
      </div>
    </section>
  );
}

/** Dark on light, with the free edge that readers need (ISO/IEC 18004, 5.3.8: four modules). */
function Code({ text }: { text: string }) {
  const { data, size } = encode(text, { ecc: "M", border: 4 });
  const path = data.map((row, y) => row.map((on, x) => (on ? `M${x} ${y}h1v1h-1z` : "")).join("")).join("");
  return (
    <svg viewBox={`0 0 ${size} ${size}`} className="h-[168px] w-[168px] shrink-0 rounded-lg bg-white" role="img">
      <title>Pairing code</title>
      <path d={path} fill="#000" shapeRendering="crispEdges" />
    </svg>
  );
}
