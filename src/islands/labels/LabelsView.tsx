import { FileDown, Printer } from "lucide-react";
import { useLayoutEffect, useMemo, useState } from "react";
import { createPortal } from "react-dom";
import { labelBlocks } from "../../core/labels/label-blocks.ts";
import { labelSheets, PAPERS, type Paper } from "../../core/labels/label-sheets.ts";
import { drawSheet } from "../../core/labels/label-svg.ts";
import { listSheets } from "../../core/labels/list-sheets.ts";
import { Button, Key } from "../components/controls.tsx";
import { Segments } from "../components/Segments.tsx";
import type { LiveState } from "../live/apply-changes.ts";
import { useLive, usePageStore } from "../live/store.ts";
import { LabelSettingsFields } from "./LabelSettingsFields.tsx";
import { useLabelFont, withFont } from "./label-font.ts";
import { keepSettings, type LabelSettings, settingsOf, sizeOf } from "./label-settings.ts";
import { labelWords, listOf, pageName } from "./label-words.ts";
import { Rulers } from "./Rulers.tsx";

/** Pixels of a millimetre on a screen of 96 dots an inch, which is what browsers count in. */
const PX = 96 / 25.4;

interface Drawn {
  readonly svgs: readonly string[];
  readonly fitted: number;
  readonly paper: Paper;
}

/** Label sheets at their true size, which follow the map. */
export function LabelsView() {
  const store = usePageStore();
  const live = useLive((l) => l);
  const [settings, setSettings] = useState<LabelSettings>(() => settingsOf(live));
  const [isTrueSize, setTrueSize] = useState(true);
  const set = (change: Partial<LabelSettings>) => {
    const next = { ...settings, ...change };
    keepSettings(next);
    setSettings(next);
  };
  // Only what stands on them: a fader that moves draws no sheet anew.
  const { show, compiled, values } = live;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is live beside these stands on no label
  const { svgs: drawn, fitted, paper } = useMemo(() => draw(live, settings), [show, compiled, values, settings]);
  const font = useLabelFont();
  const svgs = useMemo(() => drawn.map((svg) => withFont(svg, font)), [drawn, font]);
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
          <p className="min-h-4 text-small text-ink-500">{fittedWords(fitted, svgs.length)}</p>
          <div className="flex gap-2">
            <Button look="primary" className="h-9 flex-1 justify-center" disabled={svgs.length === 0} onClick={print}>
              <Printer size={15} aria-hidden /> Print {svgs.length === 1 ? "1 sheet" : `${svgs.length} sheets`}
              <Key>Ctrl P</Key>
            </Button>
            <Button className="h-9" disabled={svgs.length === 0} onClick={() => save(svgs)}>
              <FileDown size={15} aria-hidden /> SVG
            </Button>
          </div>
        </div>
      </div>
      <div className="relative min-h-0 min-w-0">
        <Rulers isTrueSize={isTrueSize}>
          {svgs.map((svg, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: sheets have no other name
            <SheetPicture key={i} svg={svg} paper={paper} isTrueSize={isTrueSize} />
          ))}
          {svgs.length === 0 ? (
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
      <PrintedSheets svgs={svgs} paper={paper} />
    </section>
  );
}

function fittedWords(fitted: number, sheets: number): string {
  if (sheets === 0) return "";
  if (fitted === 0) return "Every name fits as it is.";
  return fitted === 1 ? "One long name is set narrower." : `${fitted} long names are set narrower.`;
}

function draw(live: LiveState, settings: LabelSettings): Drawn {
  const paper: Paper =
    settings.paper === "own"
      ? { widthMm: settings.ownWidthMm, heightMm: settings.ownHeightMm, isTape: false }
      : PAPERS[settings.paper];
  const desk = live.compiled.desks.find((d) => d.page);
  const scopes = settings.pages.flatMap((page) => settings.layers.map((layer) => ({ page, layer })));
  const drawn = scopes.flatMap(({ page, layer }) => {
    const scope = { desk: desk?.id ?? null, page, layer };
    const blocks = live.compiled.surfaces.flatMap((surface, i) =>
      settings.surfaces.includes(surface.id)
        ? labelBlocks(
            surface.profile,
            surface.surface.name,
            sizeOf(settings, surface.profile.id),
            labelWords(live, i, scope),
            settings.empty,
          )
        : [],
    );
    const layerName = live.show.layers.find((l) => l.id === layer)?.name ?? layer;
    const pageWords = desk ? `page ${page} ${pageName(live, page)}`.trim() : "";
    return labelSheets(blocks, paper).map((sheet, i, all) => {
      const head = paper.isTape
        ? ""
        : [live.show.name, pageWords, `layer ${layerName}`, `sheet ${i + 1} of ${all.length}`]
            .filter((part) => part !== "")
            .join("\u2003");
      return drawSheet(sheet, { ...settings, head });
    });
  });
  const list =
    settings.list && !paper.isTape ? listSheets(listOf(live), paper, `${live.show.name}: what does what`) : [];
  return {
    svgs: [...drawn.map((d) => d.svg), ...list],
    fitted: drawn.reduce((sum, d) => sum + d.fitted, 0),
    paper,
  };
}

/** A sheet on the screen, as a picture: nothing in it runs. */
function SheetPicture({ svg, paper, isTrueSize }: { svg: string; paper: Paper; isTrueSize: boolean }) {
  const source = useMemo(() => `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`, [svg]);
  const width = Number(/width="([\d.]+)mm"/.exec(svg)?.[1] ?? paper.widthMm);
  const height = Number(/height="([\d.]+)mm"/.exec(svg)?.[1] ?? paper.heightMm);
  return (
    <img
      src={source}
      alt="A sheet of labels"
      draggable={false}
      className="block bg-white shadow-[0_12px_40px_var(--drop)]"
      style={
        isTrueSize
          ? { width: width * PX, height: height * PX }
          : {
              maxWidth: "100%",
              maxHeight: "calc(100dvh - 150px)",
              aspectRatio: `${width} / ${height}`,
              objectFit: "contain",
            }
      }
    />
  );
}

/** What the printer gets: the sheets alone, each on a page of its own. */
function PrintedSheets({ svgs, paper }: { svgs: readonly string[]; paper: Paper }) {
  return createPortal(
    <div className="printed" aria-hidden>
      <style>{`@page { size: ${paper.widthMm}mm ${paper.heightMm}mm; margin: 0 }`}</style>
      {svgs.map((svg, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: sheets have no other name
        <img key={i} src={`data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`} alt="" />
      ))}
    </div>,
    document.body,
  );
}

/** Each sheet is a file of its own. */
function save(svgs: readonly string[]): void {
  for (const [i, svg] of svgs.entries()) {
    const link = document.createElement("a");
    const address = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
    link.href = address;
    link.download = svgs.length === 1 ? "labels.svg" : `labels-${i + 1}.svg`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(address), 10_000);
  }
}
