import { DraftField } from "./DraftField.tsx";

interface Props {
  label: string;
  value: number;
  min: number;
  max: number;
  onCommit(value: number): void;
}

const numberOf = (text: string) => (text === "" ? Number.NaN : Number(text.replace(",", ".")));

/** A number that is cut to its range when it is taken over. Arrows and the wheel step it, with Shift by ten. */
export function NumberField({ label, value, min, max, onCommit }: Props) {
  const cut = (number: number) => Math.min(max, Math.max(min, number));
  return (
    <DraftField
      label={label}
      inputMode="decimal"
      className="w-[52px] !px-1.5 text-right font-mono"
      value={String(Math.round(value * 100) / 100)}
      accepts={(text) => Number.isFinite(numberOf(text))}
      steps={(text, by) => String(Math.round(cut(numberOf(text) + by) * 100) / 100)}
      onCommit={(text) => {
        const clamped = cut(numberOf(text));
        if (clamped !== value) onCommit(clamped);
      }}
    />
  );
}
