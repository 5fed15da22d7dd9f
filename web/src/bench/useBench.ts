/** What the Bench holds: its crank, what is shown, and the switches that keys and buttons share. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { cycleQuery } from "../api/queries";
import { useShopRoom } from "../app/useShopRoom";
import { Crank } from "./crank";
import type { Table } from "./lookup";
import { rock } from "./turning";
import { useDots, useDotted } from "./useDots";
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
  const { data: asMade } = useSuspenseQuery(cycleQuery(engineId, version));
  const painting = useDots(engineId);
  const table = useDotted(asMade, painting.dotsDeg);
  const crank = useCrank(table, Number(search.get("at")) || 0);
  const stops = useRef<number[]>([]);
  const [keysShown, setKeysShown] = useState(false);
  const [camShown, setCamShown] = useState(false);
  const { rocking, toggleRock } = useRocking(crank, table);
  const hidden = search.get("stroke") === "hidden";
  const covered = search.get("cover") === "1";
  const view = search.get("view") ?? "whole";
  const { board, toggleBoard } = useShopRoom();
  const setStops = useCallback((stopsDeg: number[]) => {
    stops.current = stopsDeg;
  }, []);
  const choose = useCallback(
    (name: string, value: string | null) => {
      // The address may say where the crank stood when it was last at rest: by now it is here.
      setSearch((now) => changed(changed(now, "at", placeOf(crank)), name, value), {
        replace: true,
      });
    },
    [setSearch, crank],
  );
  useKeptPlace(crank);
  const toggleHidden = useCallback(() => {
    choose("stroke", hidden ? null : "hidden");
    setCamShown(false);
  }, [choose, hidden]);
  const toggleCover = useCallback(() => choose("cover", covered ? null : "1"), [choose, covered]);
  const toggleReal = useCallback(() => crank.asOnEngine(!crank.isReal), [crank]);
  const switches = useMemo<Switches>(
    () => ({
      hidden: hidden || covered,
      rock: toggleRock,
      cover: toggleCover,
      real: toggleReal,
      view: (number) => choose("view", VIEWS[number - 1]?.value ?? "whole"),
      hide: toggleHidden,
      board: toggleBoard,
      keys: () => setKeysShown(true),
    }),
    [hidden, covered, toggleRock, toggleReal, toggleCover, choose, toggleHidden, toggleBoard],
  );
  useTurningKeys(crank, table, stops, switches);
  return {
    ...{ engineId, version, table, crank, stops, setStops, view, hidden, board, choose },
    painting,
    ...{ rocking, toggleRock, toggleReal, toggleHidden, toggleBoard, covered, toggleCover },
    ...{ keysShown, setKeysShown, camShown, setCamShown },
    back: placeBack(search.get("back")),
    method: search.get("method") ?? table.engine.best_method,
    /** The drawing that is on: a view, or none while the stroke is to be guessed. */
    shows: covered ? "covered" : hidden ? "hidden" : view,
  };
}

/** Where somebody came from to look something up: only a place of this application. */
function placeBack(back: string | null): string | null {
  return back !== null && /^\/(drill|ask|lesson)\/[\w/?=&.-]+$/.test(back) ? back : null;
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

const placeOf = (crank: Crank) => (crank.deg === 0 ? null : String(crank.deg));
const AT_REST_MS = 150;

/** The address follows the crank once it is at rest, so that a reload keeps the place. Not by the
 * router: nothing on the page depends on it, and nothing need be drawn again for it. */
function useKeptPlace(crank: Crank) {
  useEffect(() => {
    let waiting = 0;
    const keep = () => {
      const url = new URL(window.location.href);
      const at = placeOf(crank);
      if (at === url.searchParams.get("at")) return;
      if (at === null) url.searchParams.delete("at");
      else url.searchParams.set("at", at);
      window.history.replaceState(window.history.state, "", url);
    };
    const stop = crank.subscribe(() => {
      window.clearTimeout(waiting);
      waiting = window.setTimeout(keep, AT_REST_MS);
    });
    return () => {
      window.clearTimeout(waiting);
      stop();
    };
  }, [crank]);
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
