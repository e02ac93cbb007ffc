/** The control that stands for a whole range of messages: it lies nowhere on the surface. */
import type { AnyMessage, Control } from "../format/surface-profile.ts";

export function rangeControl(id: string, message: AnyMessage): Control {
  return {
    id,
    name: id,
    kind: "pad",
    behaviour: message.of === "note" ? "springs-back" : message.of === "controller" ? "absolute" : "one-shot",
    box: { x: 0, y: 0, width: 1e-6, height: 1e-6 },
    sends: message,
  };
}
