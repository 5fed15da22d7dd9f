/** What the Bench holds: its crank, what is shown, and the switches that keys and buttons share. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { cycleQuery } from "../api/queries";
import { useShopRoom } from "../app/useShopRoom";
import { Crank } from "./crank";
import type { Table } from "./lookup";
import { rock } from "./turning";
import { type Switches, useTurningKeys } from "./useTurningKeys";

export const VIEWS = [
  { value: "whole", label: "Whole engine" },
  { value: "overlap", label: "Overlap" },
  { value: "clearance", label: "What clearance does" },
  { value: "section", label: "Section" },
] as const;

export type Bench = ReturnType<typeof useBench>;

export function useBench(engineId: number) {
  const [search, setSearch] = useSearchParams();
  const version = Number(search.get("version")) || null;
  const { data: table } = useSuspenseQuery(cycleQuery(engineId, version));
  const crank = useCrank(table, Number(search.get("at")) || 0);
  const stops = useRef<number[]>([]);
  const [keysShown, setKeysShown] = useState(false);
  const [camShown, setCamShown] = useState(false);
  const { rocking, toggleRock } = useRocking(crank, table);
  const hidden = search.get("stroke") === "hidden";
  const view = search.get("view") ?? "whole";
  const { board, toggleBoard } = useShopRoom();
  const setStops = useCallback((stopsDeg: number[]) => {
    stops.current = stopsDeg;
  }, []);
  const choose = useCallback(
    (name: string, value: string | null) => {
      setSearch((now) => changed(now, name, value), { replace: true });
    },
    [setSearch],
  );
  const toggleHidden = useCallback(() => {
    choose("stroke", hidden ? null : "hidden");
    setCamShown(false);
  }, [choose, hidden]);
  const toggleReal = useCallback(() => crank.asOnEngine(!crank.isReal), [crank]);
  const switches = useMemo<Switches>(
    () => ({
      rock: toggleRock,
      real: toggleReal,
      view: (number) => choose("view", VIEWS[number - 1]?.value ?? "whole"),
      hide: toggleHidden,
      board: toggleBoard,
      keys: () => setKeysShown(true),
    }),
    [toggleRock, toggleReal, choose, toggleHidden, toggleBoard],
  );
  useTurningKeys(crank, table, stops, switches);
  return {
    ...{ engineId, version, table, crank, stops, setStops, view, hidden, board, choose },
    ...{ rocking, toggleRock, toggleReal, toggleHidden, toggleBoard },
    ...{ keysShown, setKeysShown, camShown, setCamShown },
    method: search.get("method") ?? "two-stop",
    /** The drawing that is on: a view, or none while the stroke is to be guessed. */
    shows: hidden ? "hidden" : view,
  };
}

function useCrank(table: Table, atDeg: number): Crank {
  const [crank] = useState(
    () =>
      new Crank(atDeg, {
        reverseAllowed: table.engine.reverse_allowed,
        backlashDeg: table.engine.backlash_deg,
      }),
  );
  return crank;
}

function changed(now: URLSearchParams, name: string, value: string | null): URLSearchParams {
  const next = new URLSearchParams(now);
  if (value === null) next.delete(name);
  else next.set(name, value);
  return next;
}

/** Rocking, and stopping it. Refused where rocking back would be turning back. */
function useRocking(crank: Crank, table: Table) {
  const { reverse_allowed: reverseAllowed } = table.engine;
  const { rock_deg: rockDeg } = table;
  const [rocking, setRocking] = useState(false);
  const stop = useRef<(() => void) | null>(null);
  const toggleRock = useCallback(() => {
    if (stop.current !== null) {
      stop.current();
      return;
    }
    if (crank.isReal && !reverseAllowed) {
      crank.turn(-1);
      return;
    }
    setRocking(true);
    stop.current = rock(crank, rockDeg, () => {
      stop.current = null;
      setRocking(false);
    });
  }, [crank, reverseAllowed, rockDeg]);
  useEffect(() => () => stop.current?.(), []);
  return { rocking, toggleRock };
}
