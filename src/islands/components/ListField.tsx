import type { ComponentProps } from "react";
import { DraftField } from "./DraftField.tsx";

interface Props extends Omit<ComponentProps<typeof DraftField>, "value" | "onCommit"> {
  value: readonly string[];
  /** What stands between two of them. */
  by: "," | ";";
  onCommit(list: string[]): void;
}

/** Several texts in one field. */
export function ListField({ value, by, onCommit, ...props }: Props) {
  return <DraftField value={value.join(`${by} `)} onCommit={(text) => onCommit(textList(text, by))} {...props} />;
}

/** The texts between the separators, without those that are empty. */
export function textList(text: string, by: "," | ";"): string[] {
  return text
    .split(by)
    .map((t) => t.trim())
    .filter((t) => t !== "");
}
