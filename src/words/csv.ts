/** What is wrong with a table of mappings, and what it would change, in words. */
import type { CsvChange, CsvFault } from "../core/edit/mappings-csv.ts";
import { oneOf } from "./english/lists.ts";

/** More are not listed one by one. */
const MOST_NAMED = 12;

export function csvFaultWords({ row, fault }: CsvFault): string {
  return `Row ${row}: ${sentence(fault)}`;
}

function sentence(fault: CsvFault["fault"]): string {
  switch (fault.kind) {
    case "nothing-in-it":
      return "there is nothing in this file. The first row has the heads of the columns, each further one is an action.";
    case "no-column":
      return `there is no column “${fault.column}”. Write the table out once to see the columns it has.`;
    case "unknown-column":
      return `there is no column called “${fault.text}”. Take it out, or correct its head.`;
    case "too-many-rows":
      return `the file has more than ${fault.most} rows, which is more than a show holds.`;
    case "missing":
      return `the column “${fault.column}” is empty.`;
    case "unknown":
      return `“${fault.text}” is no ${THINGS[fault.column] ?? fault.column} here.${among(fault.among)}`;
    case "not-valid":
      return `“${fault.text}” cannot stand in the column “${fault.column}”.${FORMS[fault.column] ?? ""}`;
    case "out-of-range":
      return `there is no ${fault.parameter.name} ${fault.number}. The desk has ${fault.parameter.from} to ${fault.parameter.to}.`;
    case "no-number":
      return `the numbers do not say which ${fault.parameter.name}. Add “${fault.parameter.id}=${fault.parameter.from}”.`;
    case "wrong-gesture":
      return `this control cannot make “${fault.gesture}”. It makes ${oneOf(fault.can)}.`;
    case "twice":
      return `this action stands in row ${fault.row} already.`;
    case "contradicts":
      return `row ${fault.row} says something else in the column “${fault.column}”, and is of the same mapping.`;
    default:
      return fault satisfies never;
  }
}

const THINGS: Partial<Record<string, string>> = {
  layers: "layer",
  numbers: "number of this function",
  on: "yes or no",
  "action on": "yes or no",
};

const FORMS: Partial<Record<string, string>> = {
  pages: " Write page numbers with blanks between: 1 3 4.",
  light: " Write a colour as #rrggbb, or nothing for the desk’s own.",
  numbers: " Write “page=up; playback=4”.",
  "delay ms": " Write whole milliseconds, at most 600000.",
};

function among(names: readonly string[]): string {
  if (names.length === 0 || names.length > MOST_NAMED) return "";
  return ` There is ${oneOf(names)}.`;
}

/** "3 mappings change, 1 is new, 124 stay as they are." */
export function csvChangesWords(changes: readonly CsvChange[], same: number): string {
  const count = (how: CsvChange["how"]) => changes.filter((c) => c.how === how).length;
  const [changed, fresh, removed] = [count("changed"), count("new"), count("removed")];
  const parts = [
    changed > 0 ? (changed === 1 ? "1 row changes something" : `${changed} rows change something`) : "",
    fresh > 0 ? (fresh === 1 ? "1 is new" : `${fresh} are new`) : "",
    removed > 0 ? (removed === 1 ? "1 mapping is removed" : `${removed} mappings are removed`) : "",
    same > 0 ? (same === 1 ? "1 stays as it is" : `${same} stay as they are`) : "",
  ].filter((part) => part !== "");
  return parts.length === 0 ? "The file says nothing." : `${parts.join(", ")}.`;
}
