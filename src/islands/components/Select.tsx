import { clsx } from "clsx";
import { Check, ChevronDown } from "lucide-react";
import { Select as RadixSelect } from "radix-ui";
import { useState } from "react";

export interface Option<T extends string = string> {
  value: T;
  label: string;
  hint?: string;
}

/** The words of a table as what can be chosen. */
export function optionsOf<T extends string>(words: Readonly<Record<T, string>>): Option<T>[] {
  return (Object.entries(words) as [T, string][]).map(([value, label]) => ({ value, label }));
}

interface Props<T extends string> {
  label: string;
  /** May be none of the options: then `placeholder` is shown. */
  value: string;
  options: readonly Option<T>[];
  onChange(value: NoInfer<T>): void;
  className?: string;
  disabled?: boolean;
  /** Shown while the value is none of the options. */
  placeholder?: string;
}

/** A choice out of a list, with the keyboard handling of the platform's own. */
export function Select<T extends string>({
  label,
  value,
  options,
  onChange,
  className,
  disabled,
  placeholder,
}: Props<T>) {
  const [open, setOpen] = useState(false);
  const [hasFocus, setFocus] = useState(false);
  return (
    <RadixSelect.Root
      value={value}
      onValueChange={(chosen) => onChange(chosen as T)}
      disabled={disabled ?? false}
      open={open}
      onOpenChange={setOpen}
    >
      <RadixSelect.Trigger
        aria-label={label}
        onFocus={() => setFocus(true)}
        onBlur={() => setFocus(false)}
        className={clsx(
          "inline-flex items-center justify-between gap-1.5 whitespace-nowrap rounded-md bg-velvet-800 text-small text-ink-100 hover:bg-velvet-700",
          className ?? "h-[24px] px-2",
        )}
      >
        <span className="overflow-hidden text-ellipsis">
          <RadixSelect.Value placeholder={placeholder}>
            {options.find((o) => o.value === value)?.label ?? placeholder}
          </RadixSelect.Value>
        </span>
        <ChevronDown size={12} aria-hidden className="shrink-0 text-ink-500" />
      </RadixSelect.Trigger>
      {open || hasFocus ? <Options options={options} /> : null}
    </RadixSelect.Root>
  );
}

/**
 * Made when the field has the focus, so that a letter finds one of them without opening the list: one of hundreds costs as
 * much closed as open, and a panel has many.
 */
function Options({ options }: { options: readonly Option[] }) {
  return (
    <RadixSelect.Portal>
      <RadixSelect.Content
        position="popper"
        sideOffset={4}
        className="z-50 max-h-[320px] min-w-[var(--radix-select-trigger-width)] overflow-hidden rounded-lg border border-velvet-600 bg-velvet-850 shadow-2xl"
      >
        <RadixSelect.Viewport className="p-1">
          {options.map((o) => (
            <RadixSelect.Item
              key={o.value}
              value={o.value}
              className="flex cursor-pointer items-center gap-2 rounded-md px-2 py-1.5 text-[12.5px] text-ink-100 outline-none data-[highlighted]:bg-velvet-700"
            >
              <span className="w-3.5 text-brass-300">
                <RadixSelect.ItemIndicator>
                  <Check size={13} aria-hidden />
                </RadixSelect.ItemIndicator>
              </span>
              <RadixSelect.ItemText>{o.label}</RadixSelect.ItemText>
              {o.hint ? <span className="ml-auto pl-4 text-ink-500">{o.hint}</span> : null}
            </RadixSelect.Item>
          ))}
        </RadixSelect.Viewport>
      </RadixSelect.Content>
    </RadixSelect.Portal>
  );
}
