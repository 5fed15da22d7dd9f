/** How the hall's words are said: states of a stand, kinds of log entry, meters. */
import type { Schemas } from "../api/client";

export type HallStand = Schemas["HallStandOut"];
export type LogEntry = Schemas["LogEntryOut"];

export const STATES: Record<string, string> = {
  ready: "ready",
  warm: "warm",
  "worked-on": "being worked on",
  "out-of-order": "out of order",
};

export const KINDS: Record<string, string> = {
  key: "Key measured",
  sheet: "Sheet handed in",
  measured: "Measured",
  adjusted: "Adjusted",
  service: "Serviced",
  run: "Run",
  "fault-in": "Fault planted",
  "fault-out": "Fault taken out",
  lists: "List ticked",
  note: "Note",
};

/** What a person writes; the rest is filled in by itself. */
export const WRITTEN = ["measured", "adjusted", "service", "run", "fault-in", "fault-out", "note"];

/** `1240.5 h`; empty where nobody knows. */
export function onMeter(meter: string | null, unit: string): string {
  return meter === null ? "" : `${Number(meter).toLocaleString("en-GB")} ${unit}`;
}
