import type { Ref } from "react";

interface Props {
  /** Opened by a click on it, from whatever button stands for it. */
  ref: Ref<HTMLInputElement>;
  label: string;
  onFile(file: File): void;
}

/** A JSON document out of the computer. The same file can be chosen twice in a row. */
export function FileInput({ ref, label, onFile }: Props) {
  return (
    <input
      ref={ref}
      type="file"
      accept=".json,application/json"
      aria-label={label}
      className="hidden"
      onChange={(e) => {
        const file = e.target.files?.[0];
        e.target.value = "";
        if (file) onFile(file);
      }}
    />
  );
}
