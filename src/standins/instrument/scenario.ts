/** The kits of the stand-in: sixteen sounds for the Lantern Regatta. */
export interface Kit {
  readonly name: string;
  readonly colour: string;
}

export const KITS: readonly Kit[] = [
  { name: "Ship bells", colour: "#d8b066" },
  { name: "Buoy chimes", colour: "#4fa3c7" },
  { name: "Glass water", colour: "#86cbd6" },
  { name: "Mud drums", colour: "#9a6a42" },
  { name: "Oar locks", colour: "#3fae8c" },
  { name: "Rope creak", colour: "#f2a65e" },
  { name: "Foghorns", colour: "#e2574c" },
  { name: "Gull choir", colour: "#f4edf1" },
  { name: "Storm sheet", colour: "#6a5fd0" },
  { name: "Hull booms", colour: "#8f5fd6" },
  { name: "Waltz organ", colour: "#c46bb0" },
  { name: "Harmonium", colour: "#b9a7f0" },
  { name: "Brass pads", colour: "#e9b44c" },
  { name: "Lantern hum", colour: "#f0d36d" },
  { name: "Crowd", colour: "#d9c7a3" },
  { name: "Silence", colour: "#8a8091" },
];
