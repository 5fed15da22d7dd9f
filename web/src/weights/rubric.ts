/** A rubric as it is typed, and as the server takes it. */

import type { Schemas } from "../api/client";
import { figureOf, isNoFigure } from "../app/figures";

/** As typed: a weight that is blank leaves its part out. */
export type TypedRubric = {
  weights: Record<string, string>;
  /** The least that each part must reach, in per cent; blank where it has no limit. */
  least: Record<string, string>;
  pass: string;
  zero: string;
  minutes: string;
};

export function asTyped(rubric: Schemas["RubricFieldsOut"]): TypedRubric {
  return {
    weights: Object.fromEntries(rubric.items.map((item) => [item.part, String(item.weight)])),
    least: Object.fromEntries(
      rubric.items.map((item) => [
        item.part,
        item.least_percent === 0 ? "" : String(item.least_percent),
      ]),
    ),
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
        least_percent: figure(typed.least[part] ?? ""),
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
    ...parts
      .filter(({ part }) => isNoFigure(typed.least[part] ?? ""))
      .map(({ label }) => `what ${label.toLowerCase()} must reach`),
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
    least: `What ${label.toLowerCase()} must reach`,
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
