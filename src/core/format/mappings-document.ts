/** Mappings as a document of their own: what is copied, and put in elsewhere, also in another show or window. */
import { z } from "zod";
import { parseJson, type Read, readFormat } from "./read-format.ts";
import { ControlRef } from "./shape.ts";
import { Desk, Mapping } from "./show.ts";
import { MAPPINGS_FORMAT, NEWEST } from "./versions.ts";

export const MappingsDocument = z.strictObject({
  format: z.literal(MAPPINGS_FORMAT),
  version: z.literal(NEWEST[MAPPINGS_FORMAT]),
  /** The controls that were copied, in their order; those without mappings have nothing to give. */
  controls: z.array(ControlRef).min(1).max(1024),
  mappings: z.array(Mapping).max(4096),
  /** Which kind of desk each is, so that another show finds its own of that kind. */
  desks: z.array(z.strictObject({ id: Desk.shape.id, profile: Desk.shape.profile })).max(65),
});
export type MappingsDocument = z.infer<typeof MappingsDocument>;

/** Reads a text, as it comes from a clipboard or a file. */
export function readMappings(text: string): Read<MappingsDocument> {
  const json = parseJson(text);
  return json.ok ? readFormat(json.value, MAPPINGS_FORMAT, MappingsDocument) : json;
}
