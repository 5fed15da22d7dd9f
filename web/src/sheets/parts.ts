/** The parts of a sheet that a rubric weighs, by the names that people read. */
export const PART_NAMES: Record<string, string> = {
  reading: "Reading",
  verdict: "Verdict",
  position: "Position",
  adjusted: "Adjusted",
  shim: "Shim",
  sequence: "Sequence",
  record: "Record complete",
  safety: "Safety lists",
  time: "Time",
};

export const PART_SAYS: Record<string, string> = {
  reading: "within the tolerance of the key",
  verdict: "tight, within or loose, by the student's own figure",
  position: "measured anywhere on the heel",
  adjusted: "within spec with the nut tight",
  shim: "the shim to fit brings it within spec",
  sequence: "measured at the very stop of the sheet's school",
  record: "every field of the sheet written",
  safety: "both lists ticked, before turning and before closing",
  time: "from the first list to handing in",
};

/** The marks of a valve, in the order in which the work is done. */
export const MARKS = [
  { value: "reading", label: "Reading" },
  { value: "verdict", label: "Verdict" },
  { value: "position", label: "Position" },
  { value: "adjusted", label: "Adjusted" },
  { value: "shim", label: "Shim" },
] as const;
export type MarkPart = (typeof MARKS)[number]["value"];
