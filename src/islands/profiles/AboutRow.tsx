import { DraftField } from "../components/DraftField.tsx";
import { FieldRow } from "../components/FieldRow.tsx";

/** What a profile says about its desk or surface to whoever chooses it. */
export function AboutRow({ about, onCommit }: { about: string; onCommit(about: string): void }) {
  return (
    <FieldRow label="about it">
      <DraftField label="About it" value={about} maxLength={400} className="w-full" onCommit={onCommit} />
    </FieldRow>
  );
}
