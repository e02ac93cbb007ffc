/** A menu behind a button, with the keys of the platform's own. */
import { Check, Ellipsis } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

export interface MenuEntry {
  readonly words: string;
  /** In the place of the words for whoever does not see what it belongs to. */
  readonly label?: string;
  readonly isGrave?: boolean;
  act(): void;
}

export interface MenuChoice {
  readonly title: string;
  readonly value: string;
  readonly options: readonly { readonly value: string; readonly label: string }[];
  choose(value: string): void;
}

interface Props {
  label: string;
  entries: readonly MenuEntry[];
  choice?: MenuChoice | undefined;
  children?: ReactNode;
}

const ITEM =
  "flex min-h-[30px] cursor-pointer items-center gap-2 rounded-lg px-2.5 text-[12.5px] outline-none data-[highlighted]:bg-velvet-700";

export function MoreMenu({ label, entries, choice, children }: Props) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label={label}
        title={label}
        className="rounded p-1 text-ink-500 hover:bg-velvet-700 hover:text-ink-100"
      >
        {children ?? <Ellipsis size={16} aria-hidden />}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-40 min-w-[210px] rounded-xl border border-velvet-600 bg-velvet-850 p-1.5 text-ink-100 shadow-2xl"
        >
          {entries
            .filter((e) => !e.isGrave)
            .map((e) => (
              <Entry key={e.words} entry={e} />
            ))}
          {choice ? (
            <>
              <DropdownMenu.Separator className="my-1 h-px bg-velvet-700" />
              <DropdownMenu.Label className="px-2.5 py-1 text-small text-ink-500">{choice.title}</DropdownMenu.Label>
              <DropdownMenu.RadioGroup value={choice.value} onValueChange={choice.choose}>
                {choice.options.map((o) => (
                  <DropdownMenu.RadioItem key={o.value} value={o.value} className={`${ITEM} pl-7`}>
                    <DropdownMenu.ItemIndicator className="absolute left-4">
                      <Check size={13} aria-hidden />
                    </DropdownMenu.ItemIndicator>
                    {o.label}
                  </DropdownMenu.RadioItem>
                ))}
              </DropdownMenu.RadioGroup>
            </>
          ) : null}
          {entries.some((e) => e.isGrave) ? <DropdownMenu.Separator className="my-1 h-px bg-velvet-700" /> : null}
          {entries
            .filter((e) => e.isGrave)
            .map((e) => (
              <Entry key={e.words} entry={e} />
            ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function Entry({ entry: { words, label, isGrave, act } }: { entry: MenuEntry }) {
  return (
    <DropdownMenu.Item aria-label={label} onSelect={act} className={`${ITEM} ${isGrave ? "text-alert" : ""}`}>
      {words}
    </DropdownMenu.Item>
  );
}
