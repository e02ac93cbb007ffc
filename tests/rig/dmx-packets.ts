/** Packets that carry levels, octet for octet as the tables of the standards have them. */

interface Fields {
  universe?: number;
  priority?: number;
  sequence?: number;
  options?: number;
  startCode?: number;
}

/** Octet for octet as tables 4-1 (root), 4-2 (framing) and 4-3 (DMP) of E1.31 have it. */
export function sacnPacket(slots: readonly number[], fields: Fields = {}): Uint8Array {
  const { universe = 1, priority = 100, sequence = 0, options = 0, startCode = 0 } = fields;
  const end = 126 + slots.length;
  const length = (from: number) => [0x70 | ((end - from) >> 8), (end - from) & 0xff];
  const name = [...new TextEncoder().encode("Mast lanterns")];
  return Uint8Array.of(
    ...[0x00, 0x10, 0x00, 0x00, ...new TextEncoder().encode("ASC-E1.17"), 0, 0, 0],
    ...[...length(16), 0, 0, 0, 4, ...Array.from({ length: 16 }, (_, i) => i + 1)],
    ...[...length(38), 0, 0, 0, 2, ...name, ...new Array(64 - name.length).fill(0)],
    ...[priority, 0, 0, sequence, options, universe >> 8, universe & 0xff],
    ...[...length(115), 2, 0xa1, 0, 0, 0, 1, (slots.length + 1) >> 8, (slots.length + 1) & 0xff],
    ...[startCode, ...slots],
  );
}

/** As the table of ArtDmx in Art-Net 4 has it. */
export function artDmx(slots: readonly number[], subUni = 0, net = 0, sequence = 0): Uint8Array {
  const head = [...new TextEncoder().encode("Art-Net"), 0, 0x00, 0x50, 0, 14, sequence, 0, subUni, net];
  return Uint8Array.of(...head, slots.length >> 8, slots.length & 0xff, ...slots);
}

/** As the table of ArtPoll in Art-Net 4 has it; `target`: the lowest and the highest port address that is asked. */
export function artPoll(target?: readonly [number, number]): Uint8Array {
  const head = [...new TextEncoder().encode("Art-Net"), 0, 0x00, 0x20, 0, 14];
  if (!target) return Uint8Array.of(...head, 0, 0);
  const [bottom, top] = target;
  return Uint8Array.of(...head, 0x20, 0, top >> 8, top & 0xff, bottom >> 8, bottom & 0xff);
}

/** Octet for octet as tables 4-1, 4-3 and 8-9 of E1.31 have it: which universes a source sends, one page of one. */
export function sacnDiscovery(source: string, universes: readonly number[]): Uint8Array {
  const end = 120 + 2 * universes.length;
  const length = (from: number) => [0x70 | ((end - from) >> 8), (end - from) & 0xff];
  const name = [...new TextEncoder().encode(source)];
  return Uint8Array.of(
    ...[0x00, 0x10, 0x00, 0x00, ...new TextEncoder().encode("ASC-E1.17"), 0, 0, 0],
    ...[...length(16), 0, 0, 0, 8, ...Array.from({ length: 16 }, (_, i) => i + 1)],
    ...[...length(38), 0, 0, 0, 2, ...name, ...new Array(64 - name.length).fill(0), 0, 0, 0, 0],
    ...[...length(112), 0, 0, 0, 1, 0, 0, ...universes.flatMap((u) => [u >> 8, u & 0xff])],
  );
}
