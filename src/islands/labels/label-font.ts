/** The font of the labels, within each document: a picture, a printer and a program that cuts see no font of ours. */
import file from "@fontsource-variable/instrument-sans/files/instrument-sans-latin-wdth-normal.woff2?url";
import { useEffect, useState } from "react";

/** A rule that carries the font; "" until it is there. */
export function useLabelFont(): string {
  const [rule, setRule] = useState("");
  useEffect(() => {
    let isHere = true;
    void fetch(file)
      .then((response) => response.blob())
      .then((blob) => {
        const reader = new FileReader();
        reader.addEventListener("load", () => {
          const data = String(reader.result).replace(/^data:[^;,]*/, "data:font/woff2");
          const face = `font-family:'Instrument Sans Variable';font-weight:400 700;src:url(${data})`;
          if (isHere) setRule(`<style>@font-face{${face}}</style>`);
        });
        reader.readAsDataURL(blob);
      })
      .catch(() => {}); // another font is drawn, in the same room
    return () => {
      isHere = false;
    };
  }, []);
  return rule;
}

/** An SVG document with a rule as the first thing in it. */
export function withFont(svg: string, rule: string): string {
  return svg.replace(">", `>${rule}`);
}
