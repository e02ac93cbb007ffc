/** Tables of mappings as files that a spreadsheet opens. */
import Papa from "papaparse";
import { type CsvInto, csvRows } from "../../../core/edit/mappings-csv.ts";
import type { Show } from "../../../core/format/show.ts";
import type { PageState } from "../../live/store.ts";
import { newAction, newMapping } from "../choice.ts";

/** More than the largest show has, in bytes. */
export const MOST_CSV_BYTES = 16 * 1024 * 1024;
const BEGINS_WITH = "\ufeff"; // so that a spreadsheet knows what the letters are

export function csvText(show: Show): string {
  // What a spreadsheet would take for a formula is written so that it does not.
  return BEGINS_WITH + Papa.unparse(csvRows(show), { escapeFormulae: true, newline: "\r\n" });
}

/** The rows of a file, whatever stands between its cells. A row that a quotation mark was left open in is told by its number. */
export function csvCells(text: string): { rows: string[][]; openAt: number | null } {
  const { data, errors } = Papa.parse<string[]>(text.replace(/^\ufeff/, ""), { delimiter: delimiterOf(text) });
  const open = errors.find((e) => e.type === "Quotes");
  return {
    rows: data.map((row) => row.map((cell) => (/^'[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell))),
    openAt: open ? (open.row ?? 0) + 1 : null,
  };
}

/** As the heads have it: comma, semicolon or tab. */
function delimiterOf(text: string): string {
  const [head = ""] = text.split(/\r?\n/, 1);
  const count = (sign: string) => head.split(sign).length;
  return [",", ";", "\t"].reduce((best, sign) => (count(sign) > count(best) ? sign : best));
}

export function csvInto(state: PageState): CsvInto {
  const { show, compiled } = state.live;
  const surfaces = new Map(
    compiled.surfaces.map((s) => [s.id, s.profile.controls.filter((c) => c.sends.kind !== "any")]),
  );
  const desks = new Map(compiled.desks.map((d) => [d.id, d]));
  return {
    show,
    controlsOf: (surface) => surfaces.get(surface) ?? [],
    functionsOf: (desk) => desks.get(desk)?.profile.functions ?? [],
    parameterOf: (desk, id) => desks.get(desk)?.profile.parameters.find((p) => p.id === id),
    deskIds: () => compiled.desks.map((d) => ({ id: d.id, name: d.desk.name })),
    pageDesk: compiled.desks.find((d) => d.page)?.id,
    pageParameter: (desk) => desks.get(desk)?.profile.page?.parameter,
    newMapping: (surface, control) => newMapping({ surface, control, takeover: show.settings.takeover }),
    newAction: (desk, fn, surface, control) =>
      newAction({ surface, control, shown: null }, state.live, desk, desks.get(desk)!.profile, fn),
  };
}
