import { afterEach, describe, expect, it } from "vitest";
import { atSchool, day, forField, inOrder, moment, timeOfDay } from "./school";

afterEach(() => atSchool({ time_zone: "UTC", language: "en" }));

describe("the school's clock", () => {
  it("shows every time in its own zone, whatever the device's is", () => {
    // Summer in Oslo is two hours before UTC (tz database, from memory).
    atSchool({ time_zone: "Europe/Oslo", language: "en" });
    const at = "2026-07-01T22:30:00Z";
    expect(day(at)).toBe("2 Jul 2026");
    expect(moment(at)).toBe("2 Jul 2026, 00:30");
    expect(timeOfDay(at)).toBe("00:30");
    expect(forField(at)).toBe("2026-07-02T00:30");
  });

  it("leaves a time that is not set blank", () => {
    expect(forField(null)).toBe("");
  });
});

describe("the order of names", () => {
  const names = ["Zita", "Åse", "ada", "Stand 10", "Stand 9"];

  it("is that of the school's language (CLDR, from memory)", () => {
    atSchool({ time_zone: "UTC", language: "sv" });
    expect([...names].sort(inOrder)).toEqual(["ada", "Stand 9", "Stand 10", "Zita", "Åse"]);
    atSchool({ time_zone: "UTC", language: "en" });
    expect([...names].sort(inOrder)).toEqual(["ada", "Åse", "Stand 9", "Stand 10", "Zita"]);
  });
});
