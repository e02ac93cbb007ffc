import { FileDown, Printer } from "lucide-react";
import { useLayoutEffect, useMemo, useState } from "react";
import { createPortal } from "react-dom";
import type { SvgSheet } from "../../core/labels/svg-text.ts";
import { Button, Key } from "../components/controls.tsx";
import { Segments } from "../components/Segments.tsx";
import { useLive, useLiveEqual, usePageStore } from "../live/store.ts";
import { drawnLabels, labelFacts } from "./drawn-labels.ts";
import { LabelSettingsFields } from "./LabelSettingsFields.tsx";
import { useLabelFont, withFont } from "./label-font.ts";
import { keepSettings, type LabelSettings, settingsOf } from "./label-settings.ts";
import { PX_PER_MM, Rulers } from "./Rulers.tsx";

/** Label sheets at their true size, which follow the map. */
export function LabelsView() {
  const store = usePageStore();
  const show = useLive((l) => l.show);
  const compiled = useLive((l) => l.compiled);
  const facts = useLiveEqual(labelFacts);
  const { live } = store.getState();
  const [settings, setSettings] = useState<LabelSettings>(() => settingsOf(live));
  const [isTrueSize, setTrueSize] = useState(true);
  const set = (change: Partial<LabelSettings>) => {
    const next = { ...settings, ...change };
    keepSettings(next);
    setSettings(next);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: the rest of what is live stands on no label
  const drawn = useMemo(() => drawnLabels(store.getState().live, settings), [store, show, compiled, facts, settings]);
  const font = useLabelFont();
  const sheets = useMemo(
    () => drawn.sheets.map((sheet) => ({ ...sheet, svg: withFont(sheet.svg, font) })),
    [drawn, font],
  );
  const print = () => window.print();
  const close = () => store.setState({ labelsOpen: false });
  useLayoutEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (e.key === "Escape") store.setState({ labelsOpen: false });
      else if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "p") window.print();
      else return;
      e.preventDefault();
      e.stopPropagation();
    };
    window.addEventListener("keydown", key, true);
    return () => window.removeEventListener("keydown", key, true);
  }, [store]);
  return (
    <section
      aria-label="Labels"
      className="leaf absolute inset-x-0 top-[52px] bottom-10 z-30 grid grid-cols-[327px_minmax(0,1fr)]"
    >
      <div className="grid min-h-0 grid-rows-[auto_minmax(0,1fr)_auto] border-r border-velvet-700">
        <div className="flex items-center justify-between px-4 pt-4 pb-2">
          <h2 className="text-title font-semibold">Labels</h2>
          <Button look="quiet" size="small" onClick={close}>
            Close <Key>Esc</Key>
          </Button>
        </div>
        <div className="grid content-start gap-3.5 overflow-y-auto px-4 pb-3">
          <LabelSettingsFields live={live} settings={settings} set={set} />
        </div>
        <div className="grid gap-2.5 border-t border-velvet-700 p-4">
          <p className="min-h-4 text-small text-ink-500">{fittedWords(drawn.fitted, sheets.length)}</p>
          <div className="flex gap-2">
            <Button look="primary" className="h-9 flex-1 justify-center" disabled={sheets.length === 0} onClick={print}>
              <Printer size={15} aria-hidden /> Print {sheets.length === 1 ? "1 sheet" : `${sheets.length} sheets`}
              <Key>Ctrl P</Key>
            </Button>
            <Button className="h-9" disabled={sheets.length === 0} onClick={() => save(sheets)}>
              <FileDown size={15} aria-hidden /> SVG
            </Button>
          </div>
        </div>
      </div>
      <div className="relative min-h-0 min-w-0">
        <Rulers isTrueSize={isTrueSize}>
          {sheets.map((sheet, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: sheets have no other name
            <SheetPicture key={i} sheet={sheet} isTrueSize={isTrueSize} />
          ))}
          {sheets.length === 0 ? (
            <p className="p-10 text-ink-500">
              No label is asked for: tick a surface on the left, or “What is free, as empty”.
            </p>
          ) : null}
        </Rulers>
        <div className="absolute right-4 bottom-4 rounded-xl border border-velvet-700 bg-velvet-850 p-1 shadow-2xl">
          <Segments
            label="Size on the screen"
            value={isTrueSize ? "true" : "whole"}
            options={[
              ["whole", "whole sheet"],
              ["true", "true size"],
            ]}
            onChange={(size) => setTrueSize(size === "true")}
          />
        </div>
      </div>
      <PrintedSheets sheets={sheets} />
    </section>
  );
}

function fittedWords(fitted: number, sheets: number): string {
  if (sheets === 0) return "";
  if (fitted === 0) return "Every name fits as it is.";
  return fitted === 1 ? "One long name is set narrower." : `${fitted} long names are set narrower.`;
}

/** A sheet on the screen, as a picture: nothing in it runs. */
function SheetPicture({ sheet, isTrueSize }: { sheet: SvgSheet; isTrueSize: boolean }) {
  const { svg, widthMm, heightMm } = sheet;
  const source = useMemo(() => pictureOf(svg), [svg]);
  return (
    <img
      src={source}
      alt="A sheet of labels"
      draggable={false}
      className="block bg-white shadow-[0_12px_40px_var(--drop)]"
      style={
        isTrueSize
          ? { width: widthMm * PX_PER_MM, height: heightMm * PX_PER_MM }
          : {
              maxWidth: "100%",
              maxHeight: "calc(100dvh - 150px)",
              aspectRatio: `${widthMm} / ${heightMm}`,
              objectFit: "contain",
            }
      }
    />
  );
}

/** What the printer gets: the sheets alone, each on a page of its own, which is as large as the sheet. */
function PrintedSheets({ sheets }: { sheets: readonly SvgSheet[] }) {
  const rules = sheets.map(({ widthMm, heightMm }, i) => `@page sheet-${i} { size: ${widthMm}mm ${heightMm}mm }`);
  return createPortal(
    <div className="printed" aria-hidden>
      <style>{`@page { margin: 0 } ${rules.join(" ")}`}</style>
      {sheets.map(({ svg }, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: sheets have no other name
        <img key={i} src={pictureOf(svg)} alt="" style={{ page: `sheet-${i}` }} />
      ))}
    </div>,
    document.body,
  );
}

function pictureOf(svg: string): string {
  return `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
}

/** Each sheet is a file of its own. */
function save(sheets: readonly SvgSheet[]): void {
  for (const [i, { svg }] of sheets.entries()) {
    const link = document.createElement("a");
    const address = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
    link.href = address;
    link.download = sheets.length === 1 ? "labels.svg" : `labels-${i + 1}.svg`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(address), 10_000);
  }
}
