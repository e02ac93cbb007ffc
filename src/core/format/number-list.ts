/** Several whole numbers as people type and read them. */

/** "1, 4, 7 to 9" as numbers, in order and once each; null where the text is anything else or goes past `most`. */
export function parseNumberList(text: string, most = 128): number[] | null {
  const numbers = new Set<number>();
  const parts = text
    .trim()
    .replaceAll(/\s*(?:to|–|\.\.)\s*/g, "..")
    // A line between two numbers is a range; one that begins a number is its sign.
    .replaceAll(/(\d)(?:-|\s+-\s+)(?=-?\d)/g, "$1..")
    .split(/\s*[,;]\s*|\s+/);
  for (const part of parts) {
    const range = /^(-?\d+)(?:\.\.(-?\d+))?$/.exec(part);
    if (!range) return null;
    const from = Number(range[1]);
    const to = range[2] === undefined ? from : Number(range[2]);
    if (Math.abs(to - from) >= most) return null;
    for (let n = from; from <= to ? n <= to : n >= to; n += from <= to ? 1 : -1) numbers.add(n);
    if (numbers.size > most) return null;
  }
  return [...numbers];
}

/** Numbers as `parseNumberList` reads them: "1, 4, 7 to 9". */
export function numberListWords(values: readonly number[]): string {
  const parts: string[] = [];
  for (let i = 0; i < values.length; ) {
    let j = i;
    while (j + 1 < values.length && values[j + 1] === values[j]! + 1) j++;
    if (j - i >= 2) parts.push(`${values[i]} to ${values[j]}`);
    else for (let k = i; k <= j; k++) parts.push(String(values[k]));
    i = j + 1;
  }
  return parts.join(", ");
}
