/** The lines of a panel: a few are all drawn, of hundreds only those in view. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { type ReactNode, useRef } from "react";

/** So many are all drawn: what is on the page is found by its search, too. */
const FEW = 80;
const LINE_PX = 31;

interface Props<T> {
  label: string;
  items: readonly T[];
  keyOf(item: T): string;
  /** What stands in the line. */
  children(item: T, index: number): ReactNode;
}

export function LongList<T>(props: Props<T>) {
  const { label, items, children, keyOf } = props;
  if (items.length > FEW) return <InView {...props} />;
  return (
    <ol className="min-h-0 flex-1 overflow-y-auto" aria-label={label}>
      {items.map((item, i) => (
        <li key={keyOf(item)}>{children(item, i)}</li>
      ))}
    </ol>
  );
}

function InView<T>({ label, items, keyOf, children }: Props<T>) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: items.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE_PX,
    getItemKey: (i) => keyOf(items[i]!),
    overscan: 8,
    useFlushSync: false,
  });
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-y-auto [contain:strict]">
      <ol aria-label={label} className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => (
          <li
            key={item.key}
            ref={virtual.measureElement}
            data-index={item.index}
            aria-setsize={items.length}
            aria-posinset={item.index + 1}
            className="absolute right-0 left-0"
            style={{ top: item.start }}
          >
            {children(items[item.index]!, item.index)}
          </li>
        ))}
      </ol>
    </div>
  );
}
