/** A rota's times and names as people read them. Slots are by the school's clock, without a zone. */
import type { Schemas } from "../api/client";

export type Rota = Schemas["RotaOut"];
export type Wish = Schemas["RotaWish"];
export type WishedSlot = Schemas["WishedSlot"];
export type WishedTask = Schemas["WishedTask"];
export type Booking = Schemas["BookingOut"];
export type Planning = Schemas["PlanningOut"];

/** Read as UTC, so that the browser's own zone has no say in it. */
const asDate = (slot: string) => new Date(`${slot}:00Z`);
const DAY = new Intl.DateTimeFormat("en-GB", {
  weekday: "long",
  day: "numeric",
  month: "long",
  timeZone: "UTC",
});
const SHORT = new Intl.DateTimeFormat("en-GB", {
  weekday: "short",
  day: "numeric",
  timeZone: "UTC",
});

export const dayOf = (slot: string) => slot.slice(0, 10);
export const clockOf = (slot: string) => slot.slice(11);
/** `Monday 30 November`. */
export const dayWords = (slot: string) => DAY.format(asDate(slot));
/** `Mon 30`. */
export const shortDay = (slot: string) => SHORT.format(asDate(slot));
/** `Mon 30, 08:00`. */
export const slotWords = (slot: string) => `${shortDay(slot)}, ${clockOf(slot)}`;

/** Slots by day, in order. */
export function byDay(slots: readonly WishedSlot[]): [string, WishedSlot[]][] {
  const days = new Map<string, WishedSlot[]>();
  for (const slot of slots) {
    const day = dayOf(slot.start);
    days.set(day, [...(days.get(day) ?? []), slot]);
  }
  return [...days];
}

/** The same times on each working day of a span; days are `2026-11-30`. */
export function daysOf(
  first: string,
  last: string,
  times: readonly { from: string; to: string }[],
): WishedSlot[] {
  const slots: WishedSlot[] = [];
  const end = new Date(`${last}T00:00:00Z`);
  for (
    const day = new Date(`${first}T00:00:00Z`);
    day <= end;
    day.setUTCDate(day.getUTCDate() + 1)
  ) {
    const weekday = day.getUTCDay();
    if (weekday === 0 || weekday === 6) continue;
    const name = day.toISOString().slice(0, 10);
    for (const { from, to } of times)
      slots.push({ start: `${name}T${from}`, end: `${name}T${to}` });
  }
  return slots;
}

/** `08:00-09:45, 10:00-11:45` as times; null where it is none. */
export function timesOf(typed: string): { from: string; to: string }[] | null {
  const parts = typed.split(/[,;]/).map((part) => part.trim());
  const times = parts.filter(Boolean).map((part) => {
    const found = /^(\d{1,2})[:.](\d\d)\s*[-–]\s*(\d{1,2})[:.](\d\d)$/.exec(part);
    if (found === null) return null;
    const [, h1 = "", m1 = "", h2 = "", m2 = ""] = found;
    return { from: `${h1.padStart(2, "0")}:${m1}`, to: `${h2.padStart(2, "0")}:${m2}` };
  });
  return times.length > 0 && times.every((one) => one !== null) ? times : null;
}

/** With more slots, each once, in order of time. */
export function withSlots(wish: Wish, more: readonly WishedSlot[]): Wish {
  const slots = new Map([...(wish.slots ?? []), ...more].map((slot) => [slot.start, slot]));
  return { ...wish, slots: [...slots.values()].sort((a, b) => a.start.localeCompare(b.start)) };
}

/** A key that nothing has yet: `t3`. */
export function freeKey(letter: string, taken: readonly { key: string }[]): string {
  for (let at = 1; ; at++) {
    const key = `${letter}${at}`;
    if (!taken.some((one) => one.key === key)) return key;
  }
}

export const KINDS: Record<WishedTask["kind"] & string, string> = {
  sheet: "Reading sheet",
  practice: "Practice engine",
  drill: "Drill",
  text: "Something else",
};

export const who = (rota: Rota, id: number | undefined) =>
  rota.students.find((one) => one.id === id)?.name ?? "somebody who has left";
export const taskOf = (rota: Rota, key: string) =>
  rota.wish.tasks?.find((one) => one.key === key)?.title ?? key;
export const placeOf = (rota: Rota, key: string) =>
  rota.wish.places?.find((one) => one.key === key)?.name ?? key;

/** `1 pair meets again`. */
export function pairsWords(repeats: number): string {
  if (repeats === 0) return "nobody meets twice";
  return repeats === 1 ? "one pair meets again" : `${repeats} pairs meet again`;
}

export function missingWords(missing: number): string {
  if (missing === 0) return "everybody has a place";
  return missing === 1 ? "one place is missing" : `${missing} places are missing`;
}
