/** The names of the tables of gestures, wires and carriers, as they stand in documents. */
import { z } from "zod";
import { ALL_GESTURES, type Gesture } from "./gestures.ts";
import { CARRIERS, type Carrier, WIRES, type Wire } from "./wires.ts";

export const GestureName = z.enum(ALL_GESTURES as [Gesture, ...Gesture[]]);
export const CarrierName = z.enum(Object.keys(CARRIERS) as [Carrier, ...Carrier[]]);
export const WireName = z.enum(Object.keys(WIRES) as [Wire, ...Wire[]]);
