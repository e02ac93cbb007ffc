import { DraftField } from "../components/DraftField.tsx";
import { Field } from "../components/Field.tsx";

/** What a profile says about its desk or surface to whoever chooses it. */
export function AboutRow({ about, onCommit }: { about: string; onCommit(about: string): void }) {
  return (
    <Field label="about it">
      <DraftField label="About it" value={about} maxLength={400} className="w-full" onCommit={onCommit} />
    </Field>
  );
}
