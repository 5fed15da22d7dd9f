/** Whether what has the focus takes this key itself. A choice takes arrows and blanks, no letters: the keys of a page work on while one is chosen. */
export function isTypedIn(target: EventTarget | null, key: string): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target.closest("textarea, select, dialog[open]")) return true;
  const field = target.closest("input");
  if (field === null) return false;
  return !["radio", "checkbox"].includes(field.type) || key.startsWith("Arrow") || key === " ";
}
