import type { DeskFunction, DeskProfile } from "../../core/format/desk-profile.ts";
import { DeskHealth } from "../components/DeskHealth.tsx";

/** A function of a desk, as it is listed. */
export interface Listed {
  desk: string;
  deskName: string;
  profile: DeskProfile;
  fn: DeskFunction;
}

/** Of which desk the functions below are. */
export function DeskHead({ id, name }: { id: string; name: string }) {
  return (
    <div role="presentation" className="flex justify-between gap-3 px-2.5 pt-2 pb-0.5">
      <b className="min-w-0 overflow-hidden text-small font-semibold text-ellipsis whitespace-nowrap text-ink-300">
        <bdi>{name}</bdi>
      </b>
      <DeskHealth id={id} />
    </div>
  );
}
