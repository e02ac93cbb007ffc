import { MendList } from "../live/MendList.tsx";
import { useLive, usePage } from "../live/store.ts";
import { almost } from "./almost.ts";
import { tellStory } from "./tell-story.ts";

/** Beside the reason in the bottom line, the mapping that may have been meant, and what ends the reason. */
export function MendButtons() {
  const adding = usePage((s) => s.adding);
  const near = useLive((live) => {
    const story = tellStory(live.line);
    return story && story.sent.length === 0 ? almost(live, story.heard) : null;
  });
  return (
    <>
      {near === null ? null : <span className="-ml-2 overflow-hidden text-ellipsis text-ink-300">· almost {near}</span>}
      <MendList
        rowOf={(live) => {
          const story = tellStory(live.line);
          // While it is drawn as it is touched there is nothing to mend.
          return story && story.sent.length === 0 && story.heard.device !== adding ? story.heard : null;
        }}
      />
    </>
  );
}
