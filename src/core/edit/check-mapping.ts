/** What Zod cannot see in a mapping: controls, gestures, conditions, and everything its actions name. */
import { textFaults } from "../desk/action-text.ts";
import { parseFreeMessage, TO_SURFACE, toDesk } from "../desk/free-message.ts";
import type { DeskFunction, Parameter } from "../format/desk-profile.ts";
import { gesturesOf } from "../format/gestures.ts";
import { HOUSE } from "../format/givens.ts";
import type { Path, Problem } from "../format/problem.ts";
import type { Binding, ControlRef, Shape } from "../format/shape.ts";
import type { Action, Mapping } from "../format/show.ts";
import type { Control } from "../format/surface-profile.ts";
import { rangeControl } from "../surface/range-control.ts";
import { type DeskNames, duplicates, type ShowNames } from "./check-names.ts";

/** Actions that one action with lists of numbers may stand for. */
const MAX_LISTED = 128;

export function checkMapping(m: Mapping, path: Path, names: ShowNames, problems: Problem[]): void {
  const control = controlOf(m, path, names, problems);
  if (control) {
    const can = gesturesOf(control);
    if (!can.includes(m.gesture))
      problems.push({
        code: "wrong-gesture",
        path: [...path, "gesture"],
        gesture: m.gesture,
        control: control.kind,
        can,
      });
  }
  m.layers.forEach((id, k) => {
    if (!names.layers.has(id)) problems.push({ code: "unknown-id", path: [...path, "layers", k], what: "layer", id });
  });
  if (m.bundle !== undefined && !names.bundles.has(m.bundle))
    problems.push({ code: "unknown-id", path: [...path, "bundle"], what: "bundle", id: m.bundle });
  if (m.pages) {
    const desk = names.desks.get(m.pages.desk);
    if (!desk) problems.push({ code: "unknown-id", path: [...path, "pages", "desk"], what: "desk", id: m.pages.desk });
    else if (!desk.profile.page)
      problems.push({ code: "no-page", path: [...path, "pages", "desk"], desk: m.pages.desk });
  }
  if (m.whileHeld) {
    checkControlRef(m.whileHeld, [...path, "whileHeld"], names, problems);
    if (m.whileHeld.surface === m.surface && m.whileHeld.control === m.control)
      problems.push({
        code: "not-valid",
        path: [...path, "whileHeld"],
        expected: { is: "rule", rule: "another-control" },
      });
  }
  m.when?.forEach((c, k) => {
    checkState(c.desk, c.state, c.parameters ?? {}, [...path, "when", k], names, problems);
  });
  duplicates(m.actions, "action", [...path, "actions"], problems);
  if ((m.order ?? "all") === "all" && m.actions.some((a) => (a.set ?? 1) > 1))
    problems.push({ code: "not-valid", path: [...path, "order"], expected: { is: "rule", rule: "order-for-sets" } });
  m.actions.forEach((a, k) => {
    checkAction(a, [...path, "actions", k], names, problems);
  });
}

function controlOf(m: Mapping, path: Path, names: ShowNames, problems: Problem[]): Control | undefined {
  const controls = names.surfaces.get(m.surface);
  if (!controls) {
    problems.push({ code: "unknown-id", path: [...path, "surface"], what: "surface", id: m.surface });
    return undefined;
  }
  const own = controls.get(m.control);
  if (!m.message) {
    if (!own) problems.push({ code: "unknown-id", path: [...path, "control"], what: "control", id: m.control });
    return own;
  }
  const key = `${m.surface} ${m.control}`;
  const text = JSON.stringify(m.message);
  const other = names.ranges.get(key);
  if (own) problems.push({ code: "duplicate-id", path: [...path, "control"], what: "control", id: m.control });
  if (other !== undefined && other !== text)
    problems.push({ code: "range-twice", path: [...path, "message"], control: m.control });
  names.ranges.set(key, text);
  return rangeControl(m.control, m.message);
}

function checkControlRef(ref: ControlRef, path: Path, names: ShowNames, problems: Problem[]): void {
  const controls = names.surfaces.get(ref.surface);
  if (!controls) problems.push({ code: "unknown-id", path: [...path, "surface"], what: "surface", id: ref.surface });
  else if (!controls.has(ref.control))
    problems.push({ code: "unknown-id", path: [...path, "control"], what: "control", id: ref.control });
}

/** A state with fixed parameters, as conditions and bindings name one. */
function checkState(
  deskId: string,
  stateId: string,
  parameters: Record<string, number>,
  path: Path,
  names: ShowNames,
  problems: Problem[],
): void {
  const desk = names.desks.get(deskId);
  if (!desk) {
    problems.push({ code: "unknown-id", path: [...path, "desk"], what: "desk", id: deskId });
    return;
  }
  const state = desk.states.get(stateId);
  if (!state) {
    problems.push({ code: "unknown-id", path: [...path, "state"], what: "state", id: stateId });
    return;
  }
  if (state.value.kind === "text" || state.value.kind === "colour")
    problems.push({ code: "not-valid", path: [...path, "state"], expected: { is: "rule", rule: "number-or-switch" } });
  for (const [id, value] of Object.entries(parameters)) {
    const at = [...path, "parameters", id];
    const parameter = state.parameters.includes(id) ? desk.parameters.get(id) : undefined;
    if (!parameter) problems.push({ code: "unknown-id", path: at, what: "parameter", id });
    else checkRange(value, parameter, at, problems);
  }
}

function checkRange(value: number, p: Parameter, path: Path, problems: Problem[]): void {
  if (value >= p.from && value <= p.to) return;
  if (p.to < p.from) problems.push({ code: "not-valid", path, expected: { is: "some", parameter: p.name } });
  else problems.push({ code: "out-of-range", path, what: p.name, value, from: p.from, to: p.to });
}

function checkAction(a: Action, path: Path, names: ShowNames, problems: Problem[]): void {
  const desk = names.desks.get(a.desk);
  if (!desk) {
    problems.push({ code: "unknown-id", path: [...path, "desk"], what: "desk", id: a.desk });
    return;
  }
  const fn = desk.functions.get(a.function);
  if (!fn) {
    problems.push({ code: "unknown-id", path: [...path, "function"], what: "function", id: a.function });
    return;
  }
  for (const id of Object.keys(a.bindings))
    if (!fn.parameters.includes(id))
      problems.push({ code: "unknown-id", path: [...path, "bindings", id], what: "parameter", id });
  let listed = 1;
  for (const id of fn.parameters) {
    const parameter = desk.parameters.get(id)!;
    const binding = a.bindings[id];
    const at = [...path, "bindings", id];
    if (!binding) problems.push({ code: "missing-number", path: at, parameter: parameter.name });
    else {
      checkBinding(binding, a.desk, desk, parameter, at, names, problems);
      if (binding.from === "list") listed *= binding.values.length;
    }
  }
  if (listed > MAX_LISTED)
    problems.push({
      code: "out-of-range",
      path: [...path, "bindings"],
      what: "the number of actions in its lists",
      value: listed,
      from: 1,
      to: MAX_LISTED,
    });
  checkShape(a.shape, fn, a, [...path, "shape"], names, problems);
  checkTarget(a, fn, path, names, problems);
  checkText(a, fn, path, problems);
}

function checkBinding(
  binding: Binding,
  deskId: string,
  desk: DeskNames,
  parameter: Parameter,
  path: Path,
  names: ShowNames,
  problems: Problem[],
): void {
  switch (binding.from) {
    case "fixed":
      checkRange(binding.value, parameter, [...path, "value"], problems);
      return;
    case "list":
      binding.values.forEach((value, i) => {
        checkRange(value, parameter, [...path, "values", i], problems);
      });
      return;
    case "page":
      if (desk.profile.page?.parameter !== parameter.id) problems.push({ code: "no-page", path, desk: deskId });
      return;
    case "selection":
      if (desk.profile.selection?.parameter !== parameter.id)
        problems.push({ code: "no-selection", path, desk: deskId });
      return;
    case "strip": {
      const bank = names.show.banks?.find((b) => b.id === binding.bank);
      if (!bank) problems.push({ code: "unknown-id", path: [...path, "bank"], what: "bank", id: binding.bank });
      else if (binding.strip > bank.size)
        problems.push({
          code: "out-of-range",
          path: [...path, "strip"],
          what: "strip",
          value: binding.strip,
          from: 1,
          to: bank.size,
        });
      return;
    }
    case "state":
      checkState(binding.desk, binding.state, binding.parameters ?? {}, path, names, problems);
      return;
    case "message":
    case "layer":
      return; // known only at the moment of the action, and checked then
    default:
      binding satisfies never;
  }
}

/** Base + step x 0..127, the last number of an output that is said so. */
const LAST_STEP = 127;

function checkShape(
  shape: Shape,
  fn: DeskFunction,
  a: Action,
  path: Path,
  names: ShowNames,
  problems: Problem[],
): void {
  const { output, fine } = shape;
  const variable =
    a.desk === HOUSE && fn.id === "variable.set" && a.bindings.variable?.from === "fixed"
      ? names.show.variables?.[a.bindings.variable.value - 1]
      : undefined;
  const range = variable ?? fn.range;
  if (output && range) {
    const ends = Array.isArray(output) ? output : [output.base, output.base + output.step * LAST_STEP];
    ends.forEach((value, k) => {
      if (value < range.from || value > range.to)
        problems.push({
          code: "out-of-range",
          path: Array.isArray(output) ? [...path, "output", k] : [...path, "output", k === 0 ? "base" : "step"],
          what: fn.name,
          value,
          from: range.from,
          to: range.to,
        });
    });
  }
  if (fine && "layer" in fine.while) {
    if (!names.layers.has(fine.while.layer))
      problems.push({
        code: "unknown-id",
        path: [...path, "fine", "while", "layer"],
        what: "layer",
        id: fine.while.layer,
      });
  } else if (fine) checkControlRef(fine.while as ControlRef, [...path, "fine", "while"], names, problems);
}

function checkText({ text }: Action, fn: DeskFunction, path: Path, problems: Problem[]): void {
  if (text === undefined) return;
  const at = [...path, "text"];
  if (fn.text === undefined)
    problems.push({ code: "not-valid", path: at, expected: { is: "no-text", function: fn.name } });
  else for (const fault of textFaults(text)) problems.push({ code: "template", path: at, ...fault });
}

function checkTarget(a: Action, fn: DeskFunction, path: Path, names: ShowNames, problems: Problem[]): void {
  const at = [...path, "target"];
  if (a.target !== undefined && fn.target === undefined)
    problems.push({ code: "not-valid", path: at, expected: { is: "no-target", function: fn.name } });
  if (fn.target !== undefined && a.target === undefined) {
    problems.push({ code: "missing-target", path: at, target: fn.target });
    return;
  }
  if (fn.target === undefined || a.target === undefined) return;
  const desk = names.desks.get(a.target);
  switch (fn.target) {
    case "desk":
      if (!desk || a.target === HOUSE) problems.push({ code: "unknown-id", path: at, what: "desk", id: a.target });
      else if (desk.profile.page?.set === undefined) problems.push({ code: "no-page", path: at, desk: a.target });
      return;
    case "mapping":
      if (!names.mappings.has(a.target)) problems.push({ code: "unknown-id", path: at, what: "mapping", id: a.target });
      return;
    case "port": {
      if ((!desk && !names.surfaces.has(a.target)) || a.target === HOUSE) {
        problems.push({ code: "unknown-id", path: at, what: "surface-or-desk", id: a.target });
        return;
      }
      const free = parseFreeMessage(a.message ?? "", desk ? toDesk(desk.profile.wire) : TO_SURFACE);
      if (!free.ok)
        problems.push({ code: "not-valid", path: [...path, "message"], expected: { is: "rule", rule: free.rule } });
      return;
    }
    default:
      fn.target satisfies never;
  }
}
