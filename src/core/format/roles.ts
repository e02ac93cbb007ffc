/** Who may do what. Each role may do all that the ones before it may. */
export const ROLES = ["look", "run", "edit"] as const;
export type Role = (typeof ROLES)[number];

/** Whether somebody with this role may do what needs that one. */
export function mayDo(has: Role, needs: Role): boolean {
  return ROLES.indexOf(has) >= ROLES.indexOf(needs);
}
