/** How English joins and counts. */

/** "1, 2 or 3" */
export function oneOf(list: readonly (string | number)[]): string {
  if (list.length < 2) return list.join("");
  return `${list.slice(0, -1).join(", ")} or ${list.at(-1)}`;
}

const ORDINALS = ["first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth"];

/** `n` counted from 0. */
export function ordinal(n: number): string {
  const spoken = ORDINALS[n];
  if (spoken) return spoken;
  const number = n + 1;
  const isTeen = number % 100 > 10 && number % 100 < 14;
  return `${number}${isTeen ? "th" : (["th", "st", "nd", "rd"][number % 10] ?? "th")}`;
}
