/**
 * The sheet being filled in: lines as typed, kept on this device first, then on the server. Each
 * save sends what changed here and what that was based on; the answer brings what other devices
 * wrote. What cannot be sent waits, and goes by itself as soon as it can.
 */
import { useCallback, useEffect, useRef, useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { type Sending, useSender } from "../app/sender";
import {
  forget,
  keepHere,
  keepPressed,
  keptHere,
  type Pressed,
  placeOf,
  type Waiting,
} from "./kept";
import { emptyLine, type Line, same } from "./lines";

export type Draft = ReturnType<typeof useDraft>;
export type Clash = Schemas["ClashOut"] & { line: Line };

type Lines = ReadonlyMap<number, Line>;
type Change = { line: Line; based_on: Line };

export function useDraft(
  sheetId: number,
  personId: number,
  valves: readonly number[],
  fromServer: readonly Schemas["TypedLine"][],
  unit: string,
  { isOld, onSaved }: { isOld: boolean; onSaved: (lines: Line[]) => void },
) {
  const saved = useRef(onSaved);
  saved.current = onSaved;
  const place = placeOf(personId, sheetId);
  const [kept] = useState(() => keptHere(place));
  const [requestKey] = useState(kept.requestKey);
  /** What the server has, as far as this device knows. */
  const known = useRef<Lines>(new Map());
  const latest = useRef<Lines>(new Map());
  if (latest.current.size === 0) {
    known.current = byValve(valves, fromServer, unit);
    const waiting = Object.values(kept.waiting);
    latest.current = byValve(valves, [...known.current.values()], unit, waiting);
    // What was typed before was based on what stood then, perhaps not on what stands now.
    for (const { line, base } of waiting) known.current = put(known.current, line.valve, base);
  }
  const [lines, setLines] = useState<Line[]>(() => [...latest.current.values()]);
  const [clashes, setClashes] = useState<Clash[]>([]);
  const [saving, setSaving] = useState<Sending>(
    Object.keys(kept.waiting).length > 0 ? "waiting" : "saved",
  );
  const show = useCallback((now: Lines) => {
    latest.current = now;
    setLines([...now.values()]);
  }, []);

  /** What was sent and not answered: sent again as it was, or a lost answer would be a clash of
   * this device with itself. */
  const unanswered = useRef<Change[] | null>(sentBefore(Object.values(kept.waiting)));

  const sendOnce = useCallback(async () => {
    const had = known.current;
    const changes = unanswered.current ?? changesOf(latest.current, had);
    unanswered.current = changes;
    keepHere(place, requestKey, (waiting) => {
      for (const { line } of changes) {
        const one = waiting[line.valve];
        if (one) one.sent = line;
      }
    });
    const params = { path: { sheet_id: sheetId } };
    const told = await unwrap(
      api.PATCH("/api/sheets/{sheet_id}/draft", { params, body: { changes } }),
    );
    unanswered.current = null;
    saved.current(told.lines as Line[]);
    const sent = new Map(changes.map(({ line }) => [line.valve, line]));
    const stands = byValve(valves, told.lines as Line[], unit);
    known.current = stands;
    // What was typed while this was under way stays, and is sent next.
    let now = latest.current;
    for (const [valve, here] of latest.current) {
      const there = stands.get(valve) as Line;
      if (!same(here, sent.get(valve) ?? (had.get(valve) as Line))) continue;
      // The unit of a gap that is not written yet is a wish of this device alone.
      now = put(now, valve, there.reading === "" ? { ...there, unit: here.unit } : there);
    }
    show(now);
    keepHere(place, requestKey, (waiting) => {
      for (const valve of sent.keys()) {
        const here = now.get(valve) as Line;
        const there = stands.get(valve) as Line;
        if (same(here, there)) delete waiting[valve];
        else waiting[valve] = { line: here, base: there };
      }
    });
    setClashes((found) => [
      ...found.filter((one) => !sent.has(one.valve)),
      ...told.clashes.map((clash) => ({ ...clash, line: sent.get(clash.valve) as Line })),
    ]);
  }, [place, requestKey, sheetId, show, unit, valves]);

  const send = useCallback(async () => {
    do await sendOnce();
    while (changesOf(latest.current, known.current).length > 0);
  }, [sendOnce]);

  const sender = useSender(send, setSaving);

  const change = useCallback(
    (valve: number, part: Partial<Line>) => {
      const line = { ...(latest.current.get(valve) as Line), ...part };
      show(put(latest.current, valve, line));
      keepHere(place, requestKey, (waiting) => {
        waiting[valve] = { base: lineOf(known.current, line), ...waiting[valve], line };
      });
      setClashes((found) => found.filter((clash) => clash.valve !== valve));
      sender.soon();
    },
    [place, requestKey, sender, show],
  );

  // What could not be sent last time is sent now; where what is shown was not told just now, the
  // answer brings what other devices wrote meanwhile.
  const [asksNow] = useState(isOld || Object.keys(kept.waiting).length > 0);
  useEffect(() => {
    if (asksNow) sender.now();
  }, [asksNow, sender]);

  const done = useCallback(() => {
    sender.stop();
    forget(place);
  }, [place, sender]);

  /** Pressed where it cannot go: it waits here, and goes as soon as it can (`WaitingHandIns`). */
  const keepHandIn = useCallback(
    (pressed: Pressed | null) => keepPressed(place, requestKey, pressed),
    [place, requestKey],
  );

  return { lines, change, clashes, saving, requestKey, done, keepHandIn };
}

function lineOf(known: Lines, line: Line): Line {
  return known.get(line.valve) ?? emptyLine(line.valve, line.unit);
}

/** What this device has and the server has not. */
function changesOf(here: Lines, known: Lines): Change[] {
  return [...here.values()]
    .filter((line) => !same(line, lineOf(known, line)))
    .map((line) => ({ line, based_on: lineOf(known, line) }));
}

/** What was sent before the page was closed, and never answered. */
export function sentBefore(waiting: readonly Waiting[]): Change[] | null {
  const found = waiting.flatMap(({ sent, base }) => (sent ? [{ line: sent, based_on: base }] : []));
  return found.length > 0 ? found : null;
}

function put(lines: Lines, valve: number, line: Line): Lines {
  return new Map(lines).set(valve, line);
}

/** A line for every valve, in their order; the later list wins. */
function byValve(
  valves: readonly number[],
  lines: readonly Schemas["TypedLine"][],
  unit: string,
  over: readonly { line: Line }[] = [],
): Lines {
  const found = new Map(lines.map((line) => [line.valve, line]));
  for (const { line } of over) found.set(line.valve, line);
  return new Map(valves.map((n) => [n, { ...emptyLine(n, unit), ...found.get(n) } as Line]));
}
