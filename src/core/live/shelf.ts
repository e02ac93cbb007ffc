/** The shows and the versions of the open one, as pages are told of them and as they ask for what is done with them. */
import { z } from "zod";
import { Name } from "../format/ids.ts";

export interface ShowOnShelf {
  readonly id: number;
  /** "" where the stored document cannot be read. */
  readonly name: string;
  readonly mappings: number;
  readonly savedAtMs: number;
  /** null = it was not deleted. */
  readonly deletedAtMs: number | null;
  readonly isOpen: boolean;
}

const ShowNumber = z.int().min(1);

/** What is done with whole shows. None of it touches what is in another one. */
export const ShelfCommand = z.discriminatedUnion("do", [
  z.strictObject({ do: z.literal("new"), name: Name }),
  z.strictObject({ do: z.literal("duplicate") }),
  z.strictObject({ do: z.literal("open"), id: ShowNumber }),
  z.strictObject({ do: z.literal("delete"), id: ShowNumber }),
  z.strictObject({ do: z.literal("recover"), id: ShowNumber }),
]);
export type ShelfCommand = z.infer<typeof ShelfCommand>;

/** A state of the show: "now", the one behind an edit, one that is kept, or the show as its history begins. */
export const VersionKey = z.string().regex(/^(now|begin|e\d{1,12}|v\d{1,12})$/);

export const VersionCommand = z.discriminatedUnion("do", [
  z.strictObject({ do: z.literal("name"), name: Name }),
  z.strictObject({ do: z.literal("go-back"), version: VersionKey }),
  z.strictObject({ do: z.literal("open-beside"), version: VersionKey }),
]);
export type VersionCommand = z.infer<typeof VersionCommand>;

export interface VersionEntry {
  readonly key: string;
  /** What somebody called it; "" = nobody did. */
  readonly name: string;
  /** The edit that led to it, in words. */
  readonly label: string;
  readonly madeAtMs: number;
}

export interface VersionList {
  /** The newest first. */
  readonly versions: readonly VersionEntry[];
  readonly hasOlder: boolean;
}
