/** The Bench: turn one engine's crank, and see everything follow. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { useParams, useSearchParams } from "react-router";
import { cycleQuery } from "../api/queries";
import { PlateFacts } from "../app/PlateFacts";
import { useUnit } from "../app/session";
import { counted, layoutWord } from "../app/words";
import { CrankWheel } from "./CrankWheel";
import { Crank } from "./crank";
import { KeySheet } from "./KeySheet";
import type { Table } from "./lookup";
import { Ribbon } from "./Ribbon";
import { RockerRow } from "./RockerRow";
import { RouteStrip } from "./RouteStrip";
import { useTurningKeys } from "./useTurningKeys";
import { Verdict } from "./Verdict";
import "./bench.css";

export default function BenchPage() {
  const { engineId = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const version = Number(search.get("version")) || null;
  const { data: table } = useSuspenseQuery(cycleQuery(Number(engineId), version));
  const [crank] = useState(() => new Crank(Number(search.get("at")) || 0));
  const method = search.get("method") ?? "two-stop";
  const unit = useUnit();
  const stops = useRef<number[]>([]);
  const [keysShown, setKeysShown] = useState(false);
  const showKeys = useCallback(() => setKeysShown(true), []);
  const setStops = useCallback((stopsDeg: number[]) => {
    stops.current = stopsDeg;
  }, []);
  useTurningKeys(crank, table, stops, showKeys);
  useEffect(() => {
    document.title = `${table.engine.name} · Bench · Edrix`;
  }, [table]);

  function chooseMethod(next: string) {
    const changed = new URLSearchParams(search);
    changed.set("method", next);
    setSearch(changed, { replace: true });
  }

  return (
    <div className="bench">
      <Plate table={table} onKeys={showKeys} />
      <Ribbon table={table} crank={crank} />
      <CrankWheel table={table} crank={crank} />
      <RockerRow table={table} crank={crank} unit={unit} />
      <Verdict table={table} crank={crank} />
      <RouteStrip
        engineId={Number(engineId)}
        version={version}
        crank={crank}
        method={method}
        onMethod={chooseMethod}
        onStops={setStops}
      />
      <KeySheet open={keysShown} onClose={() => setKeysShown(false)} />
    </div>
  );
}

function Plate({ table, onKeys }: { table: Table; onKeys: () => void }) {
  const { engine } = table;
  return (
    <header className="card plate">
      <div>
        <h1>{engine.name}</h1>
        <p className="soft">
          {layoutWord(engine.layout)}, {counted(engine.cylinders.length, "cylinder")},{" "}
          {counted(engine.valves.length, "valve")}. Turned by the {engine.turned_with}
          {engine.reverse_allowed ? "." : ", in the running direction only."}
        </p>
      </div>
      <PlateFacts engine={engine} />
      <button type="button" className="button" onClick={onKeys}>
        Keys <kbd>?</kbd>
      </button>
    </header>
  );
}
