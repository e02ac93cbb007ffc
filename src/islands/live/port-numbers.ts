/**
 * Which of several devices with one name is which. A port keeps its number as long as the browser knows it by its own
 * id; one that comes with a new id, as after plugging it into another socket, takes the number that is free.
 */
export interface NamedPort {
  readonly id: string;
  readonly name: string;
}

/** Numbers from 1 for each port, by its id. `known` are the numbers of before; it is not changed. */
export function numberPorts(ports: readonly NamedPort[], known: ReadonlyMap<string, number>): Map<string, number> {
  const numbers = new Map<string, number>();
  const taken = new Set<string>();
  const take = ({ id, name }: NamedPort, nth: number): boolean => {
    const key = `${nth} ${name}`;
    if (taken.has(key)) return false;
    taken.add(key);
    numbers.set(id, nth);
    return true;
  };
  const fresh = ports.filter((p) => {
    const nth = known.get(p.id);
    return nth === undefined || !take(p, nth);
  });
  for (const port of fresh) {
    let nth = 1;
    while (!take(port, nth)) nth++;
  }
  return numbers;
}

const KEY = "velvet-hinge.midi-numbers";
/** Ports that are remembered at the most; browsers make new ids now and then. */
const MOST = 200;

/** The numbers of before, also after the page was loaded anew. */
export function rememberedNumbers(storage: Storage): Map<string, number> {
  try {
    const data: unknown = JSON.parse(storage.getItem(KEY) ?? "[]");
    if (!Array.isArray(data)) return new Map();
    return new Map(data.filter((e): e is [string, number] => typeof e?.[0] === "string" && Number.isInteger(e?.[1])));
  } catch {
    return new Map(); // somebody else's text, or storage is shut: devices are numbered as they come
  }
}

export function rememberNumbers(storage: Storage, numbers: ReadonlyMap<string, number>): void {
  try {
    storage.setItem(KEY, JSON.stringify([...numbers].slice(-MOST)));
  } catch {
    // Storage that is full or shut costs only the memory of which was which.
  }
}
