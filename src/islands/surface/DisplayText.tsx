import { useLive } from "../live/store.ts";

interface Props {
  surface: string;
  /** Its place among the displays of the profile. */
  index: number;
  name: string;
}

/** A text as it went out to a display. */
export function DisplayText({ surface, index, name }: Props) {
  const text = useLive((l) => l.texts[surface]?.get(index) ?? "");
  return (
    <output
      className="narrow flex h-full items-center overflow-hidden rounded-sm bg-black px-1 text-[10.5px] whitespace-pre text-display"
      aria-label={name}
      data-display={name}
    >
      {text}
    </output>
  );
}
