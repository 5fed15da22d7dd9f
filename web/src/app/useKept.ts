/**
 * A long form as it is typed, kept until it is sent or discarded: on this device, or in this tab
 * only where nobody else at a shared tablet may come across it. Two tabs on one form follow each
 * other, keystroke by keystroke, so that neither wipes what the other wrote.
 */
import { useCallback, useEffect, useState } from "react";

type Where = "device" | "tab";

export function useKept<T>(place: string, first: T, where: Where = "device") {
  const [value, setValue] = useState<T>(() => kept(place, where) ?? first);
  const set = useCallback(
    (next: T | ((before: T) => T)) => {
      setValue((before) => {
        const now = typeof next === "function" ? (next as (before: T) => T)(before) : next;
        // Looking is no writing: what did not change is not kept either.
        if (now !== before) keep(place, now, where);
        return now;
      });
    },
    [place, where],
  );
  const forget = useCallback(() => {
    keep(place, null, where);
    setValue(first);
  }, [place, where, first]);
  useEffect(() => {
    const follow = (event: StorageEvent) => {
      if (event.key !== place) return;
      setValue(kept<T>(place, where) ?? first);
    };
    window.addEventListener("storage", follow);
    return () => window.removeEventListener("storage", follow);
  }, [place, where, first]);
  return [value, set, forget] as const;
}

function kept<T>(place: string, where: Where): T | null {
  try {
    return JSON.parse(storeOf(where).getItem(place) ?? "null") as T | null;
  } catch {
    return null;
  }
}

function keep(place: string, value: unknown, where: Where) {
  try {
    if (value === null) storeOf(where).removeItem(place);
    else storeOf(where).setItem(place, JSON.stringify(value));
  } catch {
    // A full or forbidden storage costs the copy only, not what is on the screen.
  }
}

function storeOf(where: Where): Storage {
  return where === "tab" ? sessionStorage : localStorage;
}

/** What this tab keeps, when somebody signs out of it. */
export function forgetTab() {
  try {
    sessionStorage.clear();
  } catch {
    // Nothing was kept then.
  }
}
