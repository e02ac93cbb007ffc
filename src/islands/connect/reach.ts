/** From where ports on the network are reached, as choices of a list. */
export const REACH = [
  { value: "network", label: "the whole network" },
  { value: "this-computer", label: "this computer only" },
];
