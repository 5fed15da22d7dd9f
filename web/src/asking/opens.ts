/** What a step of a lesson opens on a student's own device. */
import type { Schemas } from "../api/client";

export type Opens = Schemas["OpensOut"];

export function pathOf({ kind, of_id }: Opens): string {
  if (kind === "drill") return `/drill/${of_id}`;
  // A run begins at a press of the student's own: a test's minutes run from there.
  return kind === "practice" ? `/work?practice=${of_id}` : `/sheet/${of_id}`;
}
