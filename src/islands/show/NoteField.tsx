import { DraftField } from "../components/DraftField.tsx";

interface Props {
  /** What it is of. */
  of: string;
  note: string | undefined;
  /** Undefined takes it away. */
  onNote(note: string | undefined): void;
}

/** What is to be remembered of a part of the show. */
export function NoteField({ of, note, onNote }: Props) {
  return (
    <DraftField
      label={`Note on ${of}`}
      placeholder="a note"
      maxLength={400}
      className="min-w-[180px] flex-1"
      value={note ?? ""}
      onCommit={(text) => onNote(text || undefined)}
    />
  );
}
