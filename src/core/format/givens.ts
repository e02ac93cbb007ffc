/** What every show has without saying so. */
import type { Shape } from "./shape.ts";

/** The desk that is always there: Velvet Hinge itself. */
export const HOUSE = "house";

/** The layer that is always there. */
export const BASE_LAYER = "base";

/** The shape of an action that takes the travel of its control as it is. */
export const WHOLE_TRAVEL: Shape = { input: [0, 1], invert: false };
