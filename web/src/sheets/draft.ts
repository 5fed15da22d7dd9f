/** The sheet being filled in: lines as typed, kept on the server and, first, on this device. */
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { newKey } from "../app/keys";

/** A line with every field at hand, as a form holds it. */
export type Line = Required<Schemas["TypedLine"]>;
export type Draft = ReturnType<typeof useDraft>;
export type Saving = "saved" | "saving" | "kept here" | "refused";
const PAUSE_MS = 700;

export function emptyLine(valve: number, unit: string): Line {
  return { valve, reading: "", unit, crank_deg: null, verdict: null, further: {} };
}

export function isBegun(line: Line): boolean {
  return (
    line.reading.trim() !== "" ||
    line.crank_deg !== null ||
    line.verdict !== null ||
    Object.values(line.further).some((text) => text.trim() !== "")
  );
}

export function isDone(line: Line): boolean {
  return line.reading.trim() !== "" && line.crank_deg !== null && line.verdict !== null;
}

type Kept = { lines: Line[]; requestKey: string };

/** What this device kept of a sheet; null where there is nothing, or storage is shut. */
function keptHere(place: string): Kept | null {
  try {
    return JSON.parse(localStorage.getItem(place) ?? "null") as Kept | null;
  } catch {
    return null;
  }
}

function keepHere(place: string, kept: Kept | null) {
  try {
    if (kept === null) localStorage.removeItem(place);
    else localStorage.setItem(place, JSON.stringify(kept));
  } catch {
    // A full or forbidden storage loses the copy on this device only; the server has its own.
  }
}

/**
 * Lines for every valve, saved as they change. What this device kept but could not send (the
 * network was down) wins over the server's draft, and is sent again.
 */
export function useDraft(
  sheetId: number,
  personId: number,
  valves: readonly number[],
  fromServer: readonly Schemas["TypedLine"][],
  unit: string,
) {
  const place = `edrix-draft-${personId}-${sheetId}`;
  const [kept] = useState(() => keptHere(place));
  const [requestKey] = useState(() => kept?.requestKey ?? newKey());
  const [lines, setLines] = useState<Line[]>(() => {
    const source = kept?.lines ?? fromServer;
    return valves.map((n) => ({
      ...emptyLine(n, unit),
      ...source.find((line) => line.valve === n),
    }));
  });
  const latest = useRef(lines);
  const [saving, setSaving] = useState<Saving>(kept ? "kept here" : "saved");
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);

  const send = useCallback(
    async (now: Line[]) => {
      // Something newer has been typed meanwhile, and will be sent instead.
      if (latest.current !== now) return;
      setSaving("saving");
      try {
        const body = { lines: now.filter(isBegun) };
        const params = { params: { path: { sheet_id: sheetId } } };
        await unwrap(api.PUT("/api/sheets/{sheet_id}/draft", { ...params, body }));
        // The server has it: an old copy here must not win over work on another device.
        if (latest.current === now) keepHere(place, null);
        setSaving("saved");
      } catch (error) {
        const refused = error instanceof ApiProblem && error.status !== 0;
        setSaving(refused ? "refused" : "kept here");
      }
    },
    [place, sheetId],
  );

  // One at a time, so that on a slow network an older draft never lands on a newer one.
  const queue = useRef<Promise<void>>(Promise.resolve());
  const save = useCallback(
    (now: Line[]) => {
      queue.current = queue.current.then(() => send(now));
    },
    [send],
  );

  const change = useCallback(
    (valve: number, part: Partial<Line>) => {
      const now = latest.current.map((line) =>
        line.valve === valve ? { ...line, ...part } : line,
      );
      latest.current = now;
      setLines(now);
      keepHere(place, { lines: now, requestKey });
      clearTimeout(timer.current);
      timer.current = setTimeout(() => {
        timer.current = undefined;
        save(now);
      }, PAUSE_MS);
    },
    [place, requestKey, save],
  );

  // What could not be sent last time is sent now; what is not sent yet, when the page is left.
  useEffect(() => {
    if (kept) save(latest.current);
    return () => {
      if (timer.current === undefined) return;
      clearTimeout(timer.current);
      save(latest.current);
    };
  }, [kept, save]);

  const done = useCallback(() => {
    clearTimeout(timer.current);
    timer.current = undefined;
    keepHere(place, null);
  }, [place]);

  return { lines, change, saving, requestKey, done };
}
