/** Buttons, keys and chips of the interface, so that they look the same everywhere. */
import { clsx } from "clsx";
import { Switch as RadixSwitch } from "radix-ui";
import type { ComponentProps, ReactNode } from "react";

type ButtonProps = ComponentProps<"button"> & {
  look?: "plain" | "primary" | "quiet";
  size?: "small" | "normal" | "large";
};

export function Button({ look = "plain", size = "normal", className, ...props }: ButtonProps) {
  return (
    <button
      type="button"
      className={clsx(
        "inline-flex items-center gap-2 whitespace-nowrap rounded-lg border font-medium disabled:cursor-default disabled:opacity-45",
        size === "small" && "h-[26px] px-2.5 text-small",
        size === "normal" && "h-[30px] px-3 text-[12.5px]",
        size === "large" && "h-11 rounded-[10px] px-5 text-lead",
        look === "plain" && "border-velvet-700 bg-velvet-800 text-ink-100 enabled:hover:bg-velvet-700",
        look === "primary" &&
          "border-brass-300 bg-brass-400 font-semibold text-brass-ink enabled:hover:bg-brass-300 [&_kbd]:border-brass-ink/50 [&_kbd]:text-brass-ink",
        look === "quiet" && "border-transparent bg-transparent text-ink-300 enabled:hover:bg-velvet-800",
        className,
      )}
      {...props}
    />
  );
}

/** A button that is a picture; its label is told where the mouse rests. */
export function IconButton({ label, onClick, children }: { label: string; onClick(): void; children: ReactNode }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onClick}
      className="rounded p-1 text-ink-500 hover:bg-velvet-700 hover:text-ink-100"
    >
      {children}
    </button>
  );
}

export function Key({ children }: { children: ReactNode }) {
  return (
    <kbd className="rounded border max-[1179px]:hidden border-velvet-700 px-[5px] py-px font-mono text-[10.5px] font-medium text-ink-500">
      {children}
    </kbd>
  );
}

export function Chip({ children, className }: { children: ReactNode; className?: string }) {
  return (
    <span
      className={clsx(
        "inline-flex h-[26px] items-center gap-1.5 whitespace-nowrap rounded-full bg-velvet-800 px-2.5 text-small text-ink-300 [&_b]:font-semibold [&_b]:text-ink-100",
        className,
      )}
    >
      {children}
    </span>
  );
}

export function Switch({
  label,
  checked,
  onChange,
  hint,
}: {
  label: string;
  checked: boolean;
  onChange(on: boolean): void;
  hint?: string;
}) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the switch inside is the control; Radix renders it as a button
    <label className="inline-flex cursor-pointer items-center gap-2 whitespace-nowrap text-ink-300" title={hint}>
      {label}
      <RadixSwitch.Root
        checked={checked}
        onCheckedChange={onChange}
        aria-label={label}
        className="relative h-[18px] w-[34px] shrink-0 rounded-full bg-velvet-700 data-[state=checked]:bg-brass-400"
      >
        <RadixSwitch.Thumb className="block h-[14px] w-[14px] translate-x-[2px] rounded-full bg-ink-300 transition-transform data-[state=checked]:translate-x-[18px] data-[state=checked]:bg-brass-ink" />
      </RadixSwitch.Root>
    </label>
  );
}

export const FIELD =
  "h-[30px] rounded-lg border border-velvet-700 bg-velvet-950 px-2.5 text-[12.5px] text-ink-100 placeholder:text-ink-500";

export function TextField({ label, className, ...props }: ComponentProps<"input"> & { label: string }) {
  return <input aria-label={label} className={clsx(FIELD, className)} {...props} />;
}
