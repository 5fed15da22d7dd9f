/** Times of a rota, which are the school's own whatever zone the browser is in. */
import { expect, it } from "vitest";
import { byDay, clockOf, daysOf, dayWords, freeKey, timesOf, type Wish, withSlots } from "./words";

const TIMES = [
  { from: "08:00", to: "09:45" },
  { from: "10:00", to: "11:45" },
];

it("makes the same times on each working day", () => {
  // From a Friday to a Monday: 4 and 7 December 2026, by the calendar.
  const slots = daysOf("2026-12-04", "2026-12-07", TIMES);
  expect(slots.map((slot) => slot.start)).toEqual([
    "2026-12-04T08:00",
    "2026-12-04T10:00",
    "2026-12-07T08:00",
    "2026-12-07T10:00",
  ]);
});

it("reads times as people type them, and nothing else", () => {
  expect(timesOf("8:00-9:45; 10.00 – 11.45")).toEqual(TIMES);
  for (const wrong of ["", "8 to 9", "08:00", "08:00-09:45, later"])
    expect(timesOf(wrong)).toBeNull();
});

it("keeps each slot once, in order of time", () => {
  const wish: Wish = {
    stands_each: 4,
    slots: [{ start: "2026-12-04T10:00", end: "2026-12-04T11:45" }],
  };
  const more = withSlots(wish, daysOf("2026-12-04", "2026-12-04", TIMES));
  expect(more.slots?.map((slot) => clockOf(slot.start))).toEqual(["08:00", "10:00"]);
  expect(byDay(more.slots ?? [])).toHaveLength(1);
});

it("names a day by the school's clock", () => {
  // Half past eleven at night is another day in half of the world.
  expect(dayWords("2026-12-04T23:30")).toBe("Friday 4 December");
  expect(dayWords("2026-12-04T00:30")).toBe("Friday 4 December");
});

it("gives a key that nothing has", () => {
  expect(freeKey("t", [{ key: "t1" }, { key: "t3" }])).toBe("t2");
});
