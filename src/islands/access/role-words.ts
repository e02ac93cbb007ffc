import type { Role } from "../../core/format/roles.ts";

/** What somebody with this role may do. */
export const MAY: Readonly<Record<Role, string>> = {
  look: "sees everything, plays and changes nothing",
  run: "plays surfaces, changes nothing",
  edit: "may do all",
};
