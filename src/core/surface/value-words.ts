/** Values as the displays of surfaces and the screen show them. */
import type { Range } from "../format/desk-profile.ts";

/** A number in the unit people read it in: 0.72 of a % range is "72 %". */
export function valueWords(value: number, range: Range | undefined): string {
  if (!range) return value > 0 ? "on" : "off";
  switch (range.unit) {
    case "%":
      return `${Math.round(((value - range.from) / (range.to - range.from)) * 100)} %`;
    case "dB":
      return value <= range.from ? "−∞ dB" : `${value.toFixed(1).replace("-", "−")} dB`;
    case "none":
      return String(Math.round(value * 100) / 100);
    default:
      return `${Math.round(value * 10) / 10} ${range.unit}`;
  }
}
