/** Names that stand in documents, on the wire of the live socket and in addresses of our own endpoints. */
import { z } from "zod";
import { OSC_ADDRESS_TEMPLATE } from "../osc/address.ts";
import { rule } from "./rules.ts";

/** A short name for machines: lower-case letters, digits, dots and dashes, starting with a letter or digit. */
export const Id = z
  .string()
  .max(64)
  .regex(/^[a-z0-9][a-z0-9.-]*$/, rule("id"));

/** A name for people. */
export const Name = z.string().trim().min(1, rule("name")).max(80);

/** "#rrggbb". */
export const Colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, rule("colour"));

/**
 * An address of OSC, or a template of one with `{name}` in it: "/", then printable ASCII without space and # * , ? [ ]
 * (OSC 1.0, "OSC Address Spaces"). Whether its braces are names is checked with the names.
 */
export const OscAddress = z.string().regex(OSC_ADDRESS_TEMPLATE, rule("osc-address"));
