import { act, renderHook } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { useKept } from "./useKept";

const FIRST: Record<string, string> = {};

beforeEach(() => {
  localStorage.clear();
  sessionStorage.clear();
});

describe("a long form", () => {
  it("is there again after the page was left", () => {
    const first = renderHook(() => useKept("form", FIRST));
    act(() => first.result.current[1]({ gap: "0.3" }));
    first.unmount();
    expect(renderHook(() => useKept("form", FIRST)).result.current[0]).toEqual({ gap: "0.3" });
  });

  it("is gone once it was sent", () => {
    const { result, unmount } = renderHook(() => useKept("form", FIRST));
    act(() => result.current[1]({ gap: "0.3" }));
    act(() => result.current[2]());
    expect(result.current[0]).toEqual({});
    unmount();
    expect(localStorage.getItem("form")).toBeNull();
  });

  it("follows what another tab writes, so that neither wipes the other's", () => {
    const { result } = renderHook(() => useKept("form", FIRST));
    act(() => result.current[1]({ mine: "1" }));
    localStorage.setItem("form", JSON.stringify({ mine: "1", theirs: "2" }));
    act(() => {
      window.dispatchEvent(new StorageEvent("storage", { key: "form" }));
    });
    act(() => result.current[1]((before) => ({ ...before, mine: "3" })));
    expect(JSON.parse(localStorage.getItem("form") ?? "")).toEqual({ mine: "3", theirs: "2" });
  });

  it("of a key stays in its tab", () => {
    const { result } = renderHook(() => useKept("key", FIRST, "tab"));
    act(() => result.current[1]({ valve1: "0.31" }));
    expect(localStorage.getItem("key")).toBeNull();
    expect(sessionStorage.getItem("key")).toContain("0.31");
  });

  it("goes on where nothing can be kept", () => {
    vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new Error("full");
    });
    const { result } = renderHook(() => useKept("form", FIRST));
    act(() => result.current[1]({ gap: "0.3" }));
    expect(result.current[0]).toEqual({ gap: "0.3" });
    vi.restoreAllMocks();
  });
});
