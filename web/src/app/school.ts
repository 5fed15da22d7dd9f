/** Times as the school's clock shows them, and names in the order of its language. */
import type { Schemas } from "../api/client";

type School = Schemas["SchoolOut"];

let zone: string | undefined;
let collator = new Intl.Collator("en", { numeric: true });

/** Told once by the session, before any page is shown. */
export function atSchool(school: School) {
  zone = school.time_zone;
  collator = new Intl.Collator([school.language, "en"], { numeric: true });
}

/** For sorting what people read: Å where they look for it, Stand 10 after Stand 9. */
export function inOrder(one: string, other: string): number {
  return collator.compare(one, other);
}

const show = (at: string | Date, form: Intl.DateTimeFormatOptions) =>
  new Date(at).toLocaleString("en-GB", { ...form, ...(zone ? { timeZone: zone } : {}) });

/** `26 Nov 2026` */
export function day(at: string | Date): string {
  return show(at, { dateStyle: "medium" });
}

/** `26 Nov 2026, 17:00` */
export function moment(at: string | Date): string {
  return show(at, { dateStyle: "medium", timeStyle: "short" });
}

/** `24 Dec, 16:00`: of what lies near. */
export function near(at: string | Date): string {
  return show(at, { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });
}

/** `Tue` */
export function weekday(at: string | Date): string {
  return show(at, { weekday: "short" });
}

/** `17:00` */
export function timeOfDay(at: string | Date): string {
  return show(at, { timeStyle: "short" });
}

/** As a field for a time holds it: `2026-11-26T17:00`, by the school's clock. */
export function forField(at: string | null): string {
  if (at === null) return "";
  const parts = show(at, {
    year: "numeric",
    month: "2-digit",
    day: "2-digit",
    hour: "2-digit",
    minute: "2-digit",
  });
  const [date = "", time = ""] = parts.split(", ");
  return `${date.split("/").reverse().join("-")}T${time}`;
}
