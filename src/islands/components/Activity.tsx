import { useEffect, useRef, useState } from "react";

const BARS = 5;
const SAMPLE_MS = 200;

interface Props {
  /** How many there have been; asked a few times a second. */
  count(): number;
  way: "in" | "out";
  label: string;
}

/** Five bars of what came or went in the last second, on a logarithmic scale; a flat line is silence. */
export function Activity({ count, way, label }: Props) {
  const newest = useRef(count);
  newest.current = count;
  const [bars, setBars] = useState<readonly number[]>(() => new Array<number>(BARS).fill(0));
  useEffect(() => {
    let last = newest.current();
    const timer = setInterval(() => {
      const now = newest.current();
      const fresh = Math.max(0, now - last);
      last = now;
      setBars((old) => (fresh === 0 && old.every((b) => b === 0) ? old : [...old.slice(1), fresh]));
    }, SAMPLE_MS);
    return () => clearInterval(timer);
  }, []);
  const active = bars.some((b) => b > 0);
  return (
    <span
      role="img"
      aria-label={`${label}: ${active ? "active" : "quiet"}`}
      data-active={active}
      className="flex h-[14px] w-[23px] items-end gap-[2px]"
    >
      {bars.map((b, i) => (
        <i
          // biome-ignore lint/suspicious/noArrayIndexKey: the bars are places, not things
          key={i}
          className={`w-[3px] rounded-[1px] ${b === 0 ? "bg-velvet-600" : way === "in" ? "bg-cool" : "bg-warm"}`}
          style={{ height: b === 0 ? 2 : Math.min(14, 4 + Math.round(Math.log2(1 + b) * 2.4)) }}
        />
      ))}
    </span>
  );
}
