import { optionsOf } from "../components/Select.tsx";

/** From where ports on the network are reached, in words and as choices of a list. */
export const REACH_WORDS = { network: "the whole network", "this-computer": "this computer only" } as const;

export const REACH = optionsOf(REACH_WORDS);
