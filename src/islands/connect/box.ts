/** The boxes in the column between hands and desks. */
export const BOX = "grid gap-1.5 rounded-[9px] bg-velvet-850 px-2.5 py-2.5 text-small";
