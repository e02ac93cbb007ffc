/** The sheets of a show as they are wanted, and what of the live state stands on them. Pure. */
import { labelBlocks } from "../../core/labels/label-blocks.ts";
import { labelSheets, PAPERS, type Paper } from "../../core/labels/label-sheets.ts";
import { drawSheet } from "../../core/labels/label-svg.ts";
import { listSheets } from "../../core/labels/list-sheets.ts";
import type { SvgSheet } from "../../core/labels/svg-text.ts";
import type { DeskValues, LiveState } from "../live/apply-changes.ts";
import { type LabelSettings, sizeOf } from "./label-settings.ts";
import { labelWords, listOf, pageName } from "./label-words.ts";

export interface DrawnLabels {
  readonly sheets: readonly SvgSheet[];
  /** Names that had to be set narrower, smaller or on two lines. */
  readonly fitted: number;
}

export function drawnLabels(live: LiveState, settings: LabelSettings): DrawnLabels {
  const paper = paperOf(settings);
  const desk = live.compiled.desks.find((d) => d.page);
  const scopes = settings.pages.flatMap((page) => settings.layers.map((layer) => ({ page, layer })));
  const drawn = scopes.flatMap(({ page, layer }) => {
    const scope = { desk: desk?.id ?? null, page, layer };
    const blocks = live.compiled.surfaces.flatMap((surface, i) => {
      if (!settings.surfaces.includes(surface.id)) return [];
      const size = sizeOf(settings, surface.profile.id);
      return labelBlocks(surface.profile, surface.surface.name, size, labelWords(live, i, scope), settings.empty);
    });
    const layerName = live.show.layers.find((l) => l.id === layer)?.name ?? layer;
    const pageWords = desk ? `page ${page} ${pageName(live, page)}`.trim() : "";
    return labelSheets(blocks, paper).map((sheet, i, all) => {
      const words = [live.show.name, pageWords, `layer ${layerName}`, `sheet ${i + 1} of ${all.length}`];
      const head = paper.isTape ? "" : words.filter((w) => w !== "").join("\u2003");
      return drawSheet(sheet, { ...settings, head });
    });
  });
  const hasList = settings.list && !paper.isTape;
  const list = hasList ? listSheets(listOf(live), paper, `${live.show.name}: what does what`) : [];
  return { sheets: [...drawn, ...list], fitted: drawn.reduce((sum, d) => sum + d.fitted, 0) };
}

function paperOf({ paper, ownWidthMm, ownHeightMm }: LabelSettings): Paper {
  return paper === "own" ? { widthMm: ownWidthMm, heightMm: ownHeightMm, isTape: false } : PAPERS[paper];
}

/**
 * What stands on labels beside the show: names and colours from the desks, pages, banks, selections and which conditions
 * hold. A level that moves is none of these: it draws no sheet anew.
 */
export function labelFacts({ compiled, desks, values }: LiveState): unknown {
  const at = (desk: number, index: number) => values[compiled.desks[desk]!.id]?.value[index];
  const house = compiled.desks[compiled.house];
  const firstBank = house?.states.get("bank")?.base;
  return [
    compiled.desks.map(({ id, selection }, d) => [
      desks[id]?.page,
      selection && at(d, selection.base),
      textsOf(values[id]),
    ]),
    firstBank === undefined ? [] : (compiled.show.banks ?? []).map((_, i) => at(compiled.house, firstBank + i)),
    compiled.mappingWhen.flatMap((all) =>
      (all ?? []).map(({ desk, index, from, to }) => {
        const value = at(desk, index);
        return typeof value === "number" && value >= from && value <= to;
      }),
    ),
  ];
}

function textsOf(values: DeskValues | undefined): (string | number)[] {
  return (values?.value ?? []).flatMap((value, i) => (typeof value === "string" ? [i, value] : []));
}
