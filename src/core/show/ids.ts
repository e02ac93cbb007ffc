/** Names that stand in documents, on the wire of the live socket and in addresses of our own endpoints. */
import { z } from "zod";

/** A short name for machines: lower-case letters, digits, dots and dashes, starting with a letter or digit. */
export const Id = z
  .string()
  .max(64)
  .regex(/^[a-z0-9][a-z0-9.-]*$/, "a short name of small letters, digits, dots and dashes");

/** A name for people. */
export const Name = z.string().trim().min(1, "a name").max(80);

/** "#rrggbb". */
export const Colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, "a colour such as #e9b44c");

/** The desk that is always there: Velvet Hinge itself. */
export const HOUSE = "house";
