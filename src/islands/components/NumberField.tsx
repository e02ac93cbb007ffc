import { DraftField } from "./DraftField.tsx";

interface Props {
  label: string;
  value: number;
  min: number;
  max: number;
  onCommit(value: number): void;
}

const numberOf = (text: string) => (text === "" ? Number.NaN : Number(text.replace(",", ".")));

/** A number that is cut to its range when it is taken over. */
export function NumberField({ label, value, min, max, onCommit }: Props) {
  return (
    <DraftField
      label={label}
      inputMode="decimal"
      className="w-[52px] !px-1.5 text-right font-mono"
      value={String(Math.round(value * 100) / 100)}
      accepts={(text) => Number.isFinite(numberOf(text))}
      onCommit={(text) => {
        const clamped = Math.min(max, Math.max(min, numberOf(text)));
        if (clamped !== value) onCommit(clamped);
      }}
    />
  );
}
