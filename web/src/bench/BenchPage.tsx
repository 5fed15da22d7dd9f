/** The Bench: turn one engine's crank, and see everything follow. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { cycleQuery } from "../api/queries";
import { Choice } from "../app/Choice";
import { KeySheet } from "../app/KeySheet";
import { PlateFacts } from "../app/PlateFacts";
import { useUnit } from "../app/session";
import { useShopRoom } from "../app/useShopRoom";
import { counted, layoutWord } from "../app/words";
import { ClearanceView } from "./ClearanceView";
import { CrankWheel } from "./CrankWheel";
import { Crank } from "./crank";
import type { Table } from "./lookup";
import { NameStroke } from "./NameStroke";
import { OverlapView } from "./OverlapView";
import { Ribbon } from "./Ribbon";
import { RockerRow } from "./RockerRow";
import { RouteStrip } from "./RouteStrip";
import { TurnBar } from "./TurnBar";
import { rock } from "./turning";
import { KEYS, type Switches, useTurningKeys } from "./useTurningKeys";
import { Verdict } from "./Verdict";
import "./bench.css";

const VIEWS = [
  { value: "whole", label: "Whole engine" },
  { value: "overlap", label: "Overlap" },
  { value: "clearance", label: "What clearance does" },
] as const;

export default function BenchPage() {
  const { engineId = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const version = Number(search.get("version")) || null;
  const { data: table } = useSuspenseQuery(cycleQuery(Number(engineId), version));
  const [crank] = useState(
    () =>
      new Crank(Number(search.get("at")) || 0, {
        reverseAllowed: table.engine.reverse_allowed,
        backlashDeg: table.engine.backlash_deg,
      }),
  );
  const unit = useUnit();
  const stops = useRef<number[]>([]);
  const [keysShown, setKeysShown] = useState(false);
  const [camShown, setCamShown] = useState(false);
  const { rocking, toggleRock } = useRocking(crank, table);
  const method = search.get("method") ?? "two-stop";
  const view = search.get("view") ?? "whole";
  const hidden = search.get("stroke") === "hidden";
  const { board, toggleBoard } = useShopRoom();
  const setStops = useCallback((stopsDeg: number[]) => {
    stops.current = stopsDeg;
  }, []);

  const choose = useCallback(
    (name: string, value: string | null) => {
      setSearch(
        (now) => {
          const changed = new URLSearchParams(now);
          if (value === null) changed.delete(name);
          else changed.set(name, value);
          return changed;
        },
        { replace: true },
      );
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
  useEffect(() => {
    document.title = `${table.engine.name} · Bench · Edrix`;
  }, [table]);

  const shows = hidden ? "hidden" : view;
  return (
    <div className={`bench ${shows}`}>
      <Plate table={table} />
      <div className="bench-tools">
        <Choice
          label="View"
          options={VIEWS}
          value={hidden ? "" : view}
          onChoose={(next) => {
            choose("view", next);
            if (hidden) choose("stroke", null);
          }}
        />
        <button type="button" className="button" aria-pressed={hidden} onClick={toggleHidden}>
          Hide the stroke
        </button>
        <Link className="button" to={`/drill/${engineId}${version ? `?version=${version}` : ""}`}>
          Ask the class
        </Link>
        <span className="grow" />
        <button type="button" className="button" aria-pressed={board} onClick={toggleBoard}>
          Large and dark <kbd>B</kbd>
        </button>
        <button type="button" className="button" onClick={() => setKeysShown(true)}>
          Keys <kbd>?</kbd>
        </button>
      </div>
      {!hidden && <Ribbon table={table} crank={crank} large={board} />}
      {hidden && <NameStroke table={table} crank={crank} onCam={setCamShown} />}
      {shows === "overlap" && (
        <OverlapView table={table} crank={crank} rocking={rocking} onRock={toggleRock} />
      )}
      {shows === "clearance" && (
        <ClearanceView
          engineId={Number(engineId)}
          version={version}
          table={table}
          crank={crank}
          unit={unit}
        />
      )}
      <CrankWheel table={table} crank={crank} strokeHidden={hidden && !camShown} />
      <TurnBar
        table={table}
        crank={crank}
        stops={stops}
        rocking={rocking}
        strokeHidden={hidden}
        onRock={toggleRock}
        onReal={toggleReal}
      />
      {(shows === "whole" || shows === "hidden") && (
        <RockerRow table={table} crank={crank} unit={unit} bare={hidden} />
      )}
      {!hidden && <Verdict table={table} crank={crank} />}
      {!hidden && (
        <RouteStrip
          engineId={Number(engineId)}
          version={version}
          crank={crank}
          method={method}
          onMethod={(next) => choose("method", next)}
          onStops={setStops}
        />
      )}
      <KeySheet
        open={keysShown}
        title="Turning by keys"
        keys={KEYS}
        onClose={() => setKeysShown(false)}
      />
    </div>
  );
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

function Plate({ table }: { table: Table }) {
  const { engine } = table;
  return (
    <header className="card plate">
      <div>
        <h1>{engine.name}</h1>
        <p className="soft">
          {layoutWord(engine.layout)}, {counted(engine.cylinders.length, "cylinder")},{" "}
          {counted(engine.valves.length, "valve")}. Turned by the {engine.turned_with}
          {engine.reverse_allowed ? "" : ", in the running direction only"}
          {engine.backlash_deg > 0 ? `, ${engine.backlash_deg}° of slack` : ""}.
        </p>
      </div>
      <PlateFacts engine={engine} />
    </header>
  );
}
