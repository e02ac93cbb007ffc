/** Shows words to whoever sits here (toast.ts). */
import { useEffect } from "react";
import { Toaster, toast } from "sonner";
import { showsWords } from "../live/toast.ts";

export function Toasts() {
  // After the part that shows them has begun to listen: effects of what is inside come first.
  useEffect(() => showsWords(toast), []);
  return (
    <Toaster
      theme="dark"
      position="bottom-right"
      offset={56}
      toastOptions={{
        // Its own grey is for a dark ground, whatever the theme of the page.
        classNames: { description: "!text-ink-300" },
        style: {
          fontFamily: "var(--font-sans)",
          background: "var(--color-velvet-800)",
          borderColor: "var(--color-velvet-600)",
          color: "var(--color-ink-100)",
        },
      }}
    />
  );
}
