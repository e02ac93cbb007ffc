/** From where ports on the network are reached, in words and as choices of a list. */
export const REACH_WORDS = { network: "the whole network", "this-computer": "this computer only" } as const;

export const REACH = Object.entries(REACH_WORDS).map(([value, label]) => ({ value, label }));
