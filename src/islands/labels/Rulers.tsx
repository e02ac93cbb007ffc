import { type ReactNode, useRef, useState } from "react";

/** Pixels of a millimetre on a screen of 96 dots an inch, which is what browsers count in. */
export const PX_PER_MM = 96 / 25.4;
const RULER = 26;
const LONGEST_MM = 1600;
const TICKS = Array.from({ length: LONGEST_MM / 2 }, (_, i) => i * 2);
const NUMBERED = TICKS.filter((mm) => mm % 50 === 0);
const place = (mm: number) => 10 + mm * PX_PER_MM;
const tick = (mm: number) => RULER - (mm % 10 === 0 ? 9 : 4);
const ACROSS = TICKS.map((mm) => `M${place(mm)} ${tick(mm)}V${RULER}`).join("");
const DOWN = TICKS.map((mm) => `M${tick(mm)} ${place(mm)}H${RULER}`).join("");

/** Sheets under rulers that move with them; without true size there is nothing to measure. */
export function Rulers({ isTrueSize, children }: { isTrueSize: boolean; children: ReactNode }) {
  const scroller = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState({ x: 0, y: 0 });
  return (
    <div className="grid h-full grid-cols-[26px_minmax(0,1fr)] grid-rows-[26px_minmax(0,1fr)]">
      <span />
      <Ruler isShown={isTrueSize} from={at.x} isDown={false} />
      <Ruler isShown={isTrueSize} from={at.y} isDown />
      <section
        ref={scroller}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, and so it has to be reached by keys
        tabIndex={0}
        aria-label="Sheets"
        className="grid content-start gap-8 overflow-auto p-[10px_40px_60px_10px]"
        onScroll={(e) => setAt({ x: e.currentTarget.scrollLeft, y: e.currentTarget.scrollTop })}
      >
        {children}
      </section>
    </div>
  );
}

function Ruler({ isShown, from, isDown }: { isShown: boolean; from: number; isDown: boolean }) {
  if (!isShown) return <span />;
  const size = isDown ? { width: RULER, height: "100%" } : { width: "100%", height: RULER };
  return (
    <svg style={size} className="overflow-hidden" aria-hidden>
      <title>millimetres</title>
      <g transform={isDown ? `translate(0 ${-from})` : `translate(${-from} 0)`}>
        <path d={isDown ? DOWN : ACROSS} className="fill-none stroke-velvet-600" />
        {NUMBERED.map((mm) => (
          <text
            key={mm}
            x={isDown ? 2 : place(mm) + 3}
            y={isDown ? place(mm) + 12 : 12}
            className="fill-ink-500 text-[10px]"
          >
            {mm}
          </text>
        ))}
      </g>
    </svg>
  );
}
