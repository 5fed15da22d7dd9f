/** Figures as people type them: decimal comma or point, blanks about them, a unit behind. */

/** What a text says as a number; null where it says none. */
export function figureOf(text: string): number | null {
  const plain = text
    .trim()
    .replace(/\s*(°|mm|thou|Nm|min)$/, "")
    .replace(",", ".");
  if (!/^[+-]?(\d+\.?\d*|\.\d+)$/.test(plain)) return null;
  return Number(plain);
}

/** Whether something stands there that is no number. */
export function isNoFigure(text: string): boolean {
  return text.trim() !== "" && figureOf(text) === null;
}
