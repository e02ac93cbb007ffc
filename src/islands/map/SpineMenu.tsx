/** What is done with the chosen control as a whole. */
import { MoreMenu } from "../components/Menu.tsx";
import { usePageStore } from "../live/store.ts";
import { duplicate, toClipboard } from "./copying.ts";

export function SpineMenu() {
  const store = usePageStore();
  return (
    <MoreMenu
      label="More of this control"
      entries={[
        { words: "Copy (Ctrl C)", act: () => void toClipboard(store) },
        { words: "Duplicate to the next free one (Ctrl D)", act: () => duplicate(store) },
      ]}
    />
  );
}
