import { Tabs } from "radix-ui";
import type { ReactNode } from "react";

export interface Sheet {
  readonly id: string;
  readonly name: string;
  /** How many things are on it; left out where that says nothing. */
  readonly count?: number;
  readonly body: ReactNode;
}

interface Props {
  label: string;
  sheets: readonly Sheet[];
  /** The one that is seen, where something else than a press on its name leads there too. */
  seen?: string;
  onSeen?(id: string): void;
}

/** Several sheets of which one is seen, with their names above. */
export function TabSheet({ label, sheets, seen, onSeen }: Props) {
  const held = seen === undefined ? { defaultValue: sheets[0]!.id } : { value: seen };
  return (
    <Tabs.Root
      {...held}
      {...(onSeen ? { onValueChange: onSeen } : {})}
      className="grid min-h-0 grid-rows-[auto_minmax(0,1fr)]"
    >
      <Tabs.List aria-label={label} className="flex gap-1 border-b border-velvet-700 px-4">
        {sheets.map((t) => (
          <Tabs.Trigger
            key={t.id}
            value={t.id}
            className="flex h-[34px] items-center gap-1.5 border-b-2 border-transparent px-2.5 text-ink-300 data-[state=active]:border-brass-400 data-[state=active]:text-ink-100"
          >
            {t.name}
            {t.count === undefined ? null : <small className="text-tiny text-ink-500">{t.count}</small>}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      {sheets.map((t) => (
        <Tabs.Content key={t.id} value={t.id} className="min-h-0 overflow-y-auto px-5 py-4">
          {t.body}
        </Tabs.Content>
      ))}
    </Tabs.Root>
  );
}
