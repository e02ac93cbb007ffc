interface SegmentsProps<T extends string> {
  label: string;
  value: T;
  options: readonly (readonly [value: T, words: string])[];
  onChange(value: T): void;
}

/** One of a few words that exclude each other. */
export function Segments<T extends string>({ label, value, options, onChange }: SegmentsProps<T>) {
  return (
    <div className="flex rounded-lg bg-velvet-900 p-1" role="toolbar" aria-label={label}>
      {options.map(([id, words]) => (
        <button
          key={id}
          type="button"
          aria-pressed={id === value}
          onClick={() => onChange(id)}
          className="h-[26px] rounded-md px-2.5 text-small whitespace-nowrap text-ink-300 aria-pressed:bg-velvet-700 aria-pressed:font-semibold aria-pressed:text-ink-100"
        >
          {words}
        </button>
      ))}
    </div>
  );
}
