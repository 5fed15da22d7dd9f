import { describe, expect, it } from "vitest";
import { afterMs, asksAgain } from "./again";
import { ApiProblem } from "./client";

const times = (error: unknown) => [...Array(20).keys()].filter((n) => asksAgain(n, error)).length;

describe("a question that was not answered", () => {
  it("is asked again for half a minute while the server is away", () => {
    const away = new ApiProblem(503, "Away for a moment.");
    expect(times(away)).toBe(8);
    const waited = [...Array(8).keys()].reduce((sum, count) => sum + afterMs(count), 0);
    expect(waited).toBeGreaterThan(25_000);
  });

  it("is asked twice more where nobody can be reached, and never where it was refused", () => {
    expect(times(new ApiProblem(0, "No network."))).toBe(2);
    expect(times(new TypeError("load failed"))).toBe(2);
    for (const status of [401, 403, 404, 422, 500]) {
      expect(times(new ApiProblem(status, "No."))).toBe(0);
    }
  });
});
