/** What is plugged into the stand-in: the pictures of the Lantern Regatta. */
export interface Input {
  readonly name: string;
  readonly colour: string;
}

export const INPUTS: readonly Input[] = [
  { name: "Quay camera", colour: "#e9b44c" },
  { name: "Buoy camera", colour: "#4fa3c7" },
  { name: "Masthead", colour: "#7bc47f" },
  { name: "Band close-up", colour: "#c46bb0" },
  { name: "Harbour wide", colour: "#3fae8c" },
  { name: "Tide graphics", colour: "#b9a7f0" },
  { name: "Lantern film", colour: "#f2a65e" },
  { name: "Black water", colour: "#8a8091" },
];

/** What each mix bus starts with. */
export const AT_START = [
  { program: 5, preview: 1 },
  { program: 8, preview: 6 },
] as const;
