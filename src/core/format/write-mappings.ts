/** Writes mappings as a document of their own; apart from the reading, which needs every schema of a show. */
import type { MappingsDocument } from "./mappings-document.ts";
import { MAPPINGS_FORMAT, NEWEST } from "./versions.ts";

export type CopiedMappings = Omit<MappingsDocument, "format" | "version">;

export function mappingsDocument(copied: CopiedMappings): MappingsDocument {
  return { format: MAPPINGS_FORMAT, version: NEWEST[MAPPINGS_FORMAT], ...copied };
}

export function writeMappings(copied: CopiedMappings): string {
  return JSON.stringify(mappingsDocument(copied), null, 2);
}
