/**
 * A translator with a surface and a desk to play on: bytes go in as hands and desk send them, what leaves is read
 * back in words. Time stands still unless a test moves it.
 */

import { checkShow } from "../../src/core/edit/check-show.ts";
import type { Profiles } from "../../src/core/format/profiles.ts";
import type { Show } from "../../src/core/format/show.ts";
import { compileShow } from "../../src/core/mapping/compile.ts";
import { hexBytes, parseHexBytes } from "../../src/core/midi/hex.ts";
import { decodeOsc } from "../../src/core/osc/decode.ts";
import { encodeOsc } from "../../src/core/osc/encode.ts";
import type { OscArgument } from "../../src/core/osc/types.ts";
import { type Light, lightOf } from "../../src/core/surface/palette.ts";
import { moveBytes, pressBytes, turnBytes } from "../../src/core/surface/press-bytes.ts";
import { OUTCOME } from "../../src/core/trace/outcome.ts";
import { readRow, rowCount, type TrafficRow } from "../../src/core/trace/traffic-ring.ts";
import { Translator, type TranslatorOptions } from "../../src/core/translate/translator.ts";
import { describeOsc } from "../../src/words/osc.ts";
import { problemWords } from "../../src/words/problems.ts";
import { profiles } from "./shows.ts";

const OUTCOME_NAMES = new Map(Object.entries(OUTCOME).map(([name, code]) => [code as number, name]));

export class Rig {
  readonly translator: Translator;
  #show: Show;
  nowMs = 1000;
  #toDesk: string[] = [];
  #toSurface: string[] = [];
  readonly #lights = new Map<string, number>();
  readonly #profiles: Profiles;

  constructor(show: Show, options: TranslatorOptions & { profiles?: Profiles } = { links: false }) {
    this.#show = show;
    this.#profiles = options.profiles ?? profiles;
    const problems = checkShow(show, this.#profiles);
    if (problems.length > 0)
      throw new Error(`This show is not valid: ${problems.map((p) => problemWords(p)).join(" ")}`);
    this.translator = new Translator(
      compileShow(show, this.#profiles),
      {
        toDesk: (d, bytes, offset, length) => {
          const own = bytes.slice(offset, offset + length);
          this.#toDesk.push(this.#words(d, own));
        },
        toSurface: (_s, bytes, offset, length) => {
          const own = bytes.slice(offset, offset + length);
          const [status, number, value] = own as unknown as [number, number, number];
          this.#toSurface.push(status === 0xf0 ? textOf(own) : `${status.toString(16)} ${number} ${value}`);
          this.#lights.set(`${status} ${number}`, value);
        },
      },
      options,
    );
  }

  #words(d: number, bytes: Uint8Array): string {
    switch (this.translator.world.context.compiled.desks[d]!.profile.wire.kind) {
      case "midi":
        return hexBytes(bytes);
      case "lines":
        return new TextDecoder().decode(bytes);
      default:
        return describeOsc(bytes);
    }
  }

  /** The desk has told which page is up, and the first redraw is over. */
  static onPage(page: number, show: Show, options?: TranslatorOptions & { profiles?: Profiles }): Rig {
    const rig = new Rig(show, options);
    rig.desk("/now/page", i(page));
    rig.translator.tick(rig.nowMs);
    rig.sent();
    rig.drawn();
    return rig;
  }

  /** Lets time pass, with a tick at least every 20 ms as the engine gives it. */
  wait(ms: number): this {
    const end = this.nowMs + ms;
    do {
      this.nowMs = Math.min(end, this.nowMs + 20);
      this.translator.tick(this.nowMs);
    } while (this.nowMs < end);
    return this;
  }

  control(id: string) {
    const control = this.translator.world.context.compiled.surfaces[0]!.profile.controls.find((c) => c.id === id);
    if (!control) throw new Error(`no control ${id}`);
    return control;
  }

  press(id: string): this {
    return this.bytes(pressBytes(this.control(id), true));
  }
  release(id: string): this {
    return this.bytes(pressBytes(this.control(id), false));
  }
  tap(id: string): this {
    return this.press(id).release(id);
  }
  /** A fader to a position of 0..127. */
  move(id: string, value7: number): this {
    return this.bytes(moveBytes(this.control(id), value7 / 127));
  }
  /** Steps of an endless control, to the right or negative. */
  turn(id: string, steps: number): this {
    return this.bytes(turnBytes(this.control(id), steps));
  }
  bytes(bytes: Uint8Array): this {
    this.translator.surfaceBytes(0, bytes, this.nowMs);
    return this;
  }
  hex(text: string): this {
    return this.bytes(parseHexBytes(text)!);
  }

  /** A message from the desk. */
  desk(address: string, ...args: OscArgument[]): this {
    return this.datagram(encodeOsc({ kind: "message", address, args }));
  }
  datagram(bytes: Uint8Array, desk = 0): this {
    this.translator.deskBytes(desk, bytes, this.nowMs);
    return this;
  }
  /** A line from a desk of lines. */
  line(text: string): this {
    return this.datagram(new TextEncoder().encode(text));
  }

  edit(change: (show: Show) => Show): this {
    this.#show = change(this.#show);
    this.translator.swap(compileShow(this.#show, this.#profiles), this.nowMs);
    return this;
  }

  /** What left to the desk since the last call. */
  sent(): string[] {
    const sent = this.#toDesk;
    this.#toDesk = [];
    return sent;
  }
  /** What left to the surface since the last call, "status number value". */
  drawn(): string[] {
    const drawn = this.#toSurface;
    this.#toSurface = [];
    return drawn;
  }

  /** What a control's light shows, by the bytes it was sent and nothing else. */
  light(id: string): Light | null {
    const compiled = this.translator.world.context.compiled.surfaces[0]!;
    const c = compiled.indexOf.get(id)!;
    const value = this.#lights.get(`${compiled.lightStatus[c]} ${compiled.lightNumber[c]}`);
    return value === undefined ? null : lightOf(compiled.lightPalette[c]!, value);
  }

  /** Rows of traffic since the last call. */
  rows(): TrafficRow[] {
    const block = this.translator.world.ring.drain();
    return block ? Array.from({ length: rowCount(block) }, (_, k) => readRow(block, k)) : [];
  }
  /** What became of the messages in since the last call, by name. */
  became(): string[] {
    return this.rows()
      .filter((r) => !r.out)
      .map((r) => OUTCOME_NAMES.get(r.code) ?? String(r.code));
  }
}

/** SysEx in pairs, with what can be read as text. */
function textOf(bytes: Uint8Array): string {
  const text = String.fromCharCode(...bytes.subarray(5, -1));
  return /^[ -~]{2,}$/.test(text) ? `${hexBytes(bytes.subarray(0, 5))} “${text.trimEnd()}”` : hexBytes(bytes);
}

export const i = (value: number): OscArgument => ({ type: "i", value });
export const f = (value: number): OscArgument => ({ type: "f", value });
export const s = (value: string): OscArgument => ({ type: "s", value });
export const colour = (value: string): OscArgument => ({ type: "r", value: `${value}ff` });

/** A datagram as its messages, for tests of what is told in bundles. */
export function messages(bytes: Uint8Array): string[] {
  const result = decodeOsc(bytes);
  if (!result.ok) return [`not OSC: ${result.problem.code}`];
  return result.packet.kind === "message"
    ? [describeOsc(bytes)]
    : result.packet.elements.map((e) => describeOsc(encodeOsc(e)));
}
