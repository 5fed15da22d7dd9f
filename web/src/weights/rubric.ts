/** A rubric as it is typed, and as the server takes it. */

import type { Schemas } from "../api/client";
import { figureOf, isNoFigure } from "../app/figures";

/** As typed: a weight that is blank leaves its part out. */
export type TypedRubric = {
  weights: Record<string, string>;
  whole: Record<string, boolean>;
  pass: string;
  zero: string;
  minutes: string;
};

export function asTyped(rubric: Schemas["RubricFieldsOut"]): TypedRubric {
  return {
    weights: Object.fromEntries(rubric.items.map((item) => [item.part, String(item.weight)])),
    whole: Object.fromEntries(rubric.items.map((item) => [item.part, item.must_be_whole])),
    pass: String(rubric.pass_percent),
    zero: rubric.zero_at_mm === null ? "" : String(rubric.zero_at_mm),
    minutes: rubric.minutes === null ? "" : String(rubric.minutes),
  };
}

export function asRubric(
  typed: TypedRubric,
  parts: readonly Schemas["PartOut"][],
): Schemas["RubricIn"] {
  return {
    items: parts
      .filter(({ part }) => (typed.weights[part] ?? "").trim() !== "")
      .map(({ part }) => ({
        part,
        weight: figure(typed.weights[part] ?? ""),
        must_be_whole: typed.whole[part] ?? false,
      })),
    pass_percent: figure(typed.pass),
    zero_at_mm: optional(typed.zero),
    minutes: optional(typed.minutes),
  };
}

/** What a part's weight comes to, in per cent of all; null while it has none. */
export function shareOf(part: string, typed: TypedRubric): number | null {
  const whole = Object.values(typed.weights)
    .map((weight) => figureOf(weight) ?? 0)
    .filter((weight) => weight > 0)
    .reduce((sum, weight) => sum + weight, 0);
  const own = figureOf(typed.weights[part] ?? "") ?? 0;
  return own > 0 ? (100 * own) / whole : null;
}

/** Fields of a rubric that hold no number, as people call them: nothing is asked with those. */
export function noFigures(typed: TypedRubric, parts: readonly Schemas["PartOut"][]): string[] {
  return [
    ...parts
      .filter(({ part }) => isNoFigure(typed.weights[part] ?? ""))
      .map(({ label }) => `the weight of ${label.toLowerCase()}`),
    ...(figureOf(typed.pass) === null ? ["the pass mark"] : []),
    ...(isNoFigure(typed.zero) ? ["where a reading scores nothing"] : []),
    ...(isNoFigure(typed.minutes) ? ["the time"] : []),
  ];
}

/** A field of what is typed, by its path, as people call it. */
export function nameOfField(path: string, parts: readonly Schemas["PartOut"][]): string {
  const [field = "", part] = path.split(".");
  const label = parts.find((one) => one.part === part)?.label ?? part ?? "";
  const names: Record<string, string> = {
    weights: `Weight of ${label.toLowerCase()}`,
    whole: `${label} must be whole`,
    pass: "Pass mark",
    zero: "Where a reading scores nothing",
    minutes: "Time",
  };
  return names[field] ?? field;
}

function figure(text: string): number {
  return figureOf(text) ?? 0;
}

function optional(text: string): number | null {
  return text.trim() === "" ? null : figure(text);
}
