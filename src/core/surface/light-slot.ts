/** One number for what a short message to a surface sets: the newest of each is what the surface shows. */
export function lightSlot(status: number, number: number): number {
  return (status & 0xf0) === 0xe0 ? status * 128 : status * 128 + number; // a bend has no number
}
