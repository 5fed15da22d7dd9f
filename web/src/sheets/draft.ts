/**
 * The sheet being filled in: lines as typed, kept on this device first, then on the server. Each
 * save sends what changed here and what that was based on; the answer brings what other devices
 * wrote. What cannot be sent waits, and goes by itself as soon as it can.
 */
import { useCallback, useEffect, useRef, useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { type Sending, useSender } from "../app/sender";
import { forget, keepHere, keptHere } from "./kept";
import { emptyLine, type Line, same } from "./lines";

export type Draft = ReturnType<typeof useDraft>;
export type Clash = Schemas["ClashOut"] & { line: Line };

type Lines = ReadonlyMap<number, Line>;

export function useDraft(
  sheetId: number,
  personId: number,
  valves: readonly number[],
  fromServer: readonly Schemas["TypedLine"][],
  unit: string,
) {
  const place = `edrix-draft-${personId}-${sheetId}`;
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

  const send = useCallback(async () => {
    const before = latest.current;
    const changed = [...before.values()].filter((line) => !same(line, lineOf(known, line)));
    const changes = changed.map((line) => ({ line, based_on: lineOf(known, line) }));
    const body = { changes };
    const params = { path: { sheet_id: sheetId } };
    const told = await unwrap(api.PATCH("/api/sheets/{sheet_id}/draft", { params, body }));
    const stands = byValve(valves, told.lines as Line[], unit);
    known.current = stands;
    // What was typed while this was under way stays, and is sent next.
    let now = before;
    for (const valve of valves) {
      const here = latest.current.get(valve);
      const there = stands.get(valve);
      if (here === undefined || there === undefined) continue;
      const untouched = here === before.get(valve);
      // The unit of a gap that is not written yet is a wish of this device alone.
      const shown = there.reading === "" ? { ...there, unit: here.unit } : there;
      now = put(now, valve, untouched ? shown : here);
    }
    show(now);
    keepHere(place, requestKey, (waiting) => {
      // Typed on while this was under way: that waits in its place.
      for (const line of changed) {
        const here = now.get(line.valve);
        const there = stands.get(line.valve);
        if (here && there && same(here, there)) delete waiting[line.valve];
      }
    });
    setClashes((found) => [
      ...found.filter((one) => !changed.some((line) => line.valve === one.valve)),
      ...told.clashes.map((clash) => ({ ...clash, line: before.get(clash.valve) as Line })),
    ]);
  }, [place, requestKey, sheetId, show, unit, valves]);

  const sender = useSender(send, setSaving);

  const change = useCallback(
    (valve: number, part: Partial<Line>) => {
      const line = { ...(latest.current.get(valve) as Line), ...part };
      show(put(latest.current, valve, line));
      keepHere(place, requestKey, (waiting) => {
        waiting[valve] = { line, base: waiting[valve]?.base ?? lineOf(known, line) };
      });
      setClashes((found) => found.filter((clash) => clash.valve !== valve));
      sender.soon();
    },
    [place, requestKey, sender, show],
  );

  // What could not be sent last time is sent now.
  const [begunWith] = useState(Object.keys(kept.waiting).length);
  useEffect(() => {
    if (begunWith > 0) sender.now();
  }, [begunWith, sender]);

  const done = useCallback(() => {
    sender.stop();
    forget(place);
  }, [place, sender]);

  return { lines, change, clashes, saving, requestKey, done };
}

function lineOf(known: { current: Lines }, line: Line): Line {
  return known.current.get(line.valve) ?? emptyLine(line.valve, line.unit);
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
