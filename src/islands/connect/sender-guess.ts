/** What somebody who speaks to one of our ports may be: one guess, and everything else to choose from. Pure. */
import { exampleOf, type HeardExample } from "../../core/desk/listen.ts";
import { isKnown } from "../../core/desk/typed.ts";
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import { carriersOf } from "../../core/format/wires.ts";
import { parseHexBytes } from "../../core/midi/hex.ts";
import { decodeOsc } from "../../core/osc/decode.ts";
import type { Option } from "../components/Select.tsx";

/** In the place of the id of a kind, which has no spaces: a kind of one's own that starts empty. */
export const ANY_OSC = "any osc";
export const ANY_LINES = "any lines";

/** From here what was heard speaks for a kind. */
const FITS = 0.9;

export interface SenderGuess {
  readonly kind: string;
  readonly options: readonly Option[];
  /** The newest of what it said; null = it is neither OSC nor text. */
  readonly last: { readonly wire: "osc" | "lines"; readonly bytes: Uint8Array } | null;
}

export function guessSender(heard: readonly string[], profiles: Iterable<DeskProfile>): SenderGuess {
  const messages = heard.flatMap((hex) => {
    const bytes = parseHexBytes(hex);
    const wire = bytes && wireOf(bytes);
    return bytes && wire ? [{ wire, bytes }] : [];
  });
  const last = messages.at(-1) ?? null;
  const wire = last?.wire ?? "osc";
  const examples = messages.filter((m) => m.wire === wire).flatMap(({ bytes }) => exampleOf(bytes, wire) ?? []);
  const fits = [...profiles]
    .filter((p) => p.wire.kind === wire && carriersOf(wire).includes("udp"))
    .map((profile) => ({ profile, share: shareOf(profile, examples) }))
    .sort((a, b) => b.share - a.share);
  const any = wire === "osc" ? ANY_OSC : ANY_LINES;
  const best = fits.find((f) => f.share >= FITS);
  return {
    kind: best?.profile.id ?? any,
    last,
    options: [
      { value: any, label: wire === "osc" ? "any desk by OSC" : "any desk by lines of text" },
      ...fits.map(({ profile, share }) => ({
        value: profile.id,
        label: share > 0 ? `${profile.name}, fits ${Math.round(share * 100)} %` : profile.name,
      })),
    ],
  };
}

function shareOf(profile: DeskProfile, examples: readonly HeardExample[]): number {
  return examples.length === 0 ? 0 : examples.filter((e) => isKnown(profile, e)).length / examples.length;
}

/** Null: it is neither an OSC packet (OSC 1.0, “OSC Packets”) nor text. */
function wireOf(bytes: Uint8Array): "osc" | "lines" | null {
  if (decodeOsc(bytes).ok) return "osc";
  const text = new TextDecoder().decode(bytes);
  // biome-ignore lint/suspicious/noControlCharactersInRegex: whether it has any is the question
  return /^[^\u0000-\u0008\u000e-\u001f\ufffd]*\S/u.test(text) && !/[\u0000-\u0008\ufffd]/u.test(text) ? "lines" : null;
}
