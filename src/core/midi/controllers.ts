/** Controllers that mean something of their own (MIDI 1.0 Detailed Specification 4.2, table III and "Mode Messages"). */

export const BANK_MSB = 0;
export const BANK_LSB = 32;

/** Values are written to a parameter by data entry, or it is stepped up and down. */
export const DATA_ENTRY_MSB = 6;
export const DATA_ENTRY_LSB = 38;
export const DATA_INCREMENT = 96;
export const DATA_DECREMENT = 97;
/** All that write to the parameter that is named. */
export const DATA_ENTRY: readonly number[] = [DATA_ENTRY_MSB, DATA_ENTRY_LSB, DATA_INCREMENT, DATA_DECREMENT];

export const NRPN_LSB = 98;
export const NRPN_MSB = 99;
export const RPN_LSB = 100;
export const RPN_MSB = 101;
/** The number that names no parameter, sent to close one: 127, 127. */
export const NO_PARAMETER = 16_383;

/** True for the controllers that name a parameter. */
export function namesParameter(controller: number): boolean {
  return controller >= NRPN_LSB && controller <= RPN_MSB;
}

/** True for a controller that may belong to a parameter number. */
export function isParameterController(controller: number): boolean {
  return namesParameter(controller) || DATA_ENTRY.includes(controller);
}

/** Damper, sostenuto and hold 2: what is held by them sounds until they are up. */
export const PEDALS: readonly number[] = [64, 66, 69];
/** From here a pedal is down. */
export const PEDAL_DOWN_FROM = 64;

/** First of the numbers that are channel mode messages. */
export const FIRST_CHANNEL_MODE = 120;
export const RESET_CONTROLLERS = 121;
/** All sound off, all notes off, and the modes that imply it. */
export const ENDS_NOTES: ReadonlySet<number> = new Set([120, 123, 124, 125, 126, 127]);
