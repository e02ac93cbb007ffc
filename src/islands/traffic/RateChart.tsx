import { memo } from "react";
import { Area, AreaChart, Tooltip, YAxis } from "recharts";
import { CHART_S, type Rate } from "../../core/trace/traffic-store.ts";

/** Ports that are drawn by themselves; the others are one area. */
const DRAWN = 4;
const COLOURS = ["cool", "warm", "good", "plum", "ink-500"].map((name) => `var(--color-${name})`);

interface Props {
  rates: readonly Rate[];
  /** Names of devices by their ids. */
  names: ReadonlyMap<string, string>;
}

/** Messages a second of each port over the last minute; the busiest by themselves. */
export const RateChart = memo(function RateChart({ rates, names }: Props) {
  const busiest = [...rates].sort((a, b) => sum(b.perS) - sum(a.perS));
  const drawn = busiest.slice(0, DRAWN).map((r) => ({
    key: `${names.get(r.device) ?? r.device} ${r.out ? "out" : "in"}`,
    perS: r.perS,
  }));
  const others = busiest.slice(DRAWN);
  if (others.length > 0)
    drawn.push({
      key: "the others",
      perS: Array.from({ length: CHART_S }, (_, s) => others.reduce((n, r) => n + r.perS[s]!, 0)),
    });
  const data = Array.from({ length: CHART_S }, (_, s) => ({
    s: s - CHART_S,
    ...Object.fromEntries(drawn.map((d) => [d.key, d.perS[s]!])),
  }));
  return (
    <figure className="flex items-center gap-4" aria-label="Messages a second">
      <AreaChart width={330} height={54} data={data} margin={{ top: 2, right: 0, bottom: 0, left: 0 }}>
        <YAxis
          width={34}
          tick={{ fontSize: 10, fill: "var(--color-ink-500)" }}
          axisLine={false}
          tickLine={false}
          tickCount={3}
          tickFormatter={thousands}
        />
        <Tooltip
          isAnimationActive={false}
          contentStyle={{
            background: "var(--color-velvet-850)",
            border: "1px solid var(--color-velvet-600)",
            borderRadius: 8,
            fontSize: 12,
          }}
          labelFormatter={(_, payload) => `${-((payload[0]?.payload as { s: number } | undefined)?.s ?? 0)} s ago`}
        />
        {drawn.map((d, i) => (
          <Area
            key={d.key}
            dataKey={d.key}
            stackId="all"
            type="step"
            stroke={COLOURS[i]!}
            fill={COLOURS[i]!}
            fillOpacity={0.35}
            strokeWidth={1}
            isAnimationActive={false}
          />
        ))}
      </AreaChart>
      <figcaption className="flex max-w-[380px] flex-wrap gap-x-3 gap-y-0.5 text-tiny text-ink-500">
        {drawn.map((d, i) => (
          <span key={d.key} className="flex items-center gap-1">
            <i className="inline-block h-2 w-2 rounded-sm" style={{ background: COLOURS[i] }} />
            {d.key} <b className="font-mono text-ink-300">{d.perS.at(-1)}</b>/s
          </span>
        ))}
      </figcaption>
    </figure>
  );
});

/** In an axis there is no room for long numbers. */
function thousands(n: number): string {
  return n >= 1000 ? `${n / 1000}k` : String(n);
}

function sum(list: readonly number[]): number {
  return list.reduce((a, b) => a + b, 0);
}
