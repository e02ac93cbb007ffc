/** Whether keys belong to a field, a dialog or a list, and not to the page. */
export function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable ||
      target instanceof HTMLTextAreaElement ||
      target instanceof HTMLSelectElement ||
      (target instanceof HTMLInputElement && !["checkbox", "color", "range"].includes(target.type)) ||
      target.closest('[role="dialog"],[role="listbox"]:not(#functions, #traffic-rows)') !== null)
  );
}
