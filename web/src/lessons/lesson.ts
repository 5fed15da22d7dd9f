/** A lesson's steps as they are written: pure, so that what moves and what is kept can be tested. */
import type { Schemas } from "../api/client";

export type Lesson = Schemas["LessonOut"];
export type Held = Schemas["LessonStepOut"];
export type Step = Record<string, unknown> & { kind: string; title: string };
export type Document = { format: string; title: string; about?: string; steps: Step[] };

export const KINDS = [
  { value: "text", label: "Told", about: "lines on the wall" },
  { value: "bench", label: "Bench", about: "an engine at a place" },
  { value: "question", label: "Question", about: "on every phone" },
  { value: "drill", label: "Drill", about: "ten questions, each for themselves" },
  { value: "practice", label: "Practice engine", about: "of the class, by its title" },
  { value: "sheet", label: "Sheet", about: "of the class, by its title" },
] as const;

const OWN: Record<string, readonly string[]> = {
  text: [],
  bench: ["engine", "at_deg", "view", "cover"],
  question: ["engine", "question", "at_deg", "seconds"],
  drill: ["engine"],
  practice: ["named"],
  sheet: ["named"],
};
const COMMON = ["kind", "title", "text", "notes", "minutes"];

export const has = (step: Step, field: string) => (OWN[step.kind] ?? []).includes(field);

export function emptyLesson(): Document {
  return { format: "edrix-lesson/1", title: "", steps: [newStep("text")] };
}

export function newStep(kind: string, engine = ""): Step {
  const step: Step = { kind, title: "" };
  if (has(step, "engine")) step.engine = engine;
  if (has(step, "question")) step.question = "which-valves";
  return step;
}

/** Another kind of step keeps what both have. */
export function ofKind(step: Step, kind: string): Step {
  const fresh = newStep(kind, typeof step.engine === "string" ? step.engine : "");
  const kept = [...COMMON, ...(OWN[kind] ?? [])].filter((name) => name !== "kind" && name in step);
  return { ...fresh, ...Object.fromEntries(kept.map((name) => [name, step[name]])), kind };
}

/** With a field as typed; what says nothing is left out, as the file has it. */
export function withField(step: Step, field: string, value: unknown): Step {
  const { [field]: _before, ...rest } = step;
  const isEmpty = value === null || value === false || (value === "" && field !== "title");
  return (isEmpty ? rest : { ...rest, [field]: value }) as Step;
}

export function moved(steps: readonly Step[], from: number, by: -1 | 1): Step[] {
  const to = from + by;
  const next = [...steps];
  const [step] = next.splice(from, 1);
  if (step === undefined || to < 0 || to >= steps.length) return [...steps];
  next.splice(to, 0, step);
  return next;
}

/** The problem of a field of a step, where the server has said one: `$.steps[2].engine`. */
export function problemAt(
  fields: readonly { path: string; problem: string }[],
  place: number,
  field: string,
): string | undefined {
  return fields.find((one) => one.path === `$.steps[${place}].${field}`)?.problem;
}

/** Minutes before each step, and at the end, all of them. */
export function beginsAt(steps: readonly Readonly<Record<string, unknown>>[]): number[] {
  const begins = [0];
  for (const step of steps) begins.push((begins.at(-1) ?? 0) + (Number(step.minutes) || 0));
  return begins;
}
