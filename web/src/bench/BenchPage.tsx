/** The Bench: turn one engine's crank, and see everything follow. */
import { useEffect } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Choice } from "../app/Choice";
import { FromTheManual } from "../app/FromTheManual";
import { KeySheet } from "../app/KeySheet";
import { PlateFacts } from "../app/PlateFacts";
import { usePerson, useUnit } from "../app/session";
import { counted, layoutWord } from "../app/words";
import { ClearanceView } from "./ClearanceView";
import { CrankWheel } from "./CrankWheel";
import type { Table } from "./lookup";
import { NameStroke } from "./NameStroke";
import { OverlapView } from "./OverlapView";
import { Ribbon } from "./Ribbon";
import { RouteStrip } from "./RouteStrip";
import { SectionView } from "./SectionView";
import { TurnBar } from "./TurnBar";
import { type Bench, useBench, VIEWS } from "./useBench";
import { KEYS } from "./useTurningKeys";
import { MANY_CYLINDERS, Valves } from "./Valves";
import { Verdict } from "./Verdict";
import "./bench.css";

export default function BenchPage() {
  const { engineId = "" } = useParams();
  const bench = useBench(Number(engineId));
  const { table, crank, hidden } = bench;
  const isMany = table.engine.firing_order.length > MANY_CYLINDERS;
  useEffect(() => {
    document.title = `${table.engine.name} · Bench · Edrix`;
  }, [table]);
  return (
    <div className={`bench ${bench.shows}${isMany ? " many" : ""}`}>
      <Plate table={table} back={bench.back} />
      <Tools bench={bench} />
      {bench.shows === "hidden" && (
        <NameStroke table={table} crank={crank} onCam={bench.setCamShown} />
      )}
      {!hidden && !bench.covered && <Ribbon table={table} crank={crank} large={bench.board} />}
      <View bench={bench} />
      <KeySheet
        open={bench.keysShown}
        title="Turning by keys"
        keys={KEYS}
        onClose={() => bench.setKeysShown(false)}
      />
    </div>
  );
}

function Tools({ bench }: { bench: Bench }) {
  const { engineId, version, view, hidden, covered, board, choose } = bench;
  const person = usePerson();
  return (
    <div className="bench-tools">
      <Choice
        label="View"
        options={VIEWS}
        value={hidden || covered ? "" : view}
        onChoose={(next) => {
          choose("view", next);
          if (hidden) choose("stroke", null);
          if (covered) choose("cover", null);
        }}
      />
      <button type="button" className="button" aria-pressed={hidden} onClick={bench.toggleHidden}>
        Hide the stroke
      </button>
      <button
        type="button"
        className="button"
        aria-pressed={bench.covered}
        onClick={bench.toggleCover}
      >
        Cover
      </button>
      {person.may_teach && <AskHere bench={bench} />}
      <Link className="button" to={`/drill/${engineId}${version ? `?version=${version}` : ""}`}>
        Drill
      </Link>
      <span className="grow" />
      <button type="button" className="button" aria-pressed={board} onClick={bench.toggleBoard}>
        Large and dark <kbd>B</kbd>
      </button>
      <button type="button" className="button" onClick={() => bench.setKeysShown(true)}>
        <span className="visually-hidden">Shortcuts</span> <kbd>?</kbd>
      </button>
    </div>
  );
}

/** Where the crank stands now, put to a class: on a page that tells nothing. */
function AskHere({ bench: { engineId, version, crank } }: { bench: Bench }) {
  const go = useNavigate();
  const ask = () => {
    const which = version === null ? "" : `&version=${version}`;
    go(`/ask-here/${engineId}?at=${crank.deg}${which}`);
  };
  return (
    <button type="button" className="button" onClick={ask}>
      Ask the class
    </button>
  );
}

function View({ bench }: { bench: Bench }) {
  const { engineId, version, table, crank, shows, rocking, toggleRock } = bench;
  const hidden = bench.hidden || bench.covered;
  const unit = useUnit();
  return (
    <>
      {shows === "overlap" && (
        <OverlapView table={table} crank={crank} rocking={rocking} onRock={toggleRock} />
      )}
      {shows === "section" && <SectionView table={table} crank={crank} />}
      {shows === "clearance" && <ClearanceView {...{ engineId, version, table, crank, unit }} />}
      <CrankWheel
        table={table}
        crank={crank}
        strokeHidden={hidden && !bench.camShown}
        turnable
        painting={bench.painting}
      />
      <TurnBar
        table={table}
        crank={crank}
        stops={bench.stops}
        rocking={rocking}
        strokeHidden={hidden}
        onRock={toggleRock}
        onReal={bench.toggleReal}
      />
      {(shows === "whole" || shows === "hidden" || shows === "covered") && (
        <Valves {...{ table, crank, unit }} bare={hidden} board={bench.board} />
      )}
      {!hidden && <Verdict table={table} crank={crank} />}
      {!hidden && (
        <RouteStrip
          engine={table.engine}
          engineId={engineId}
          version={version}
          crank={crank}
          method={bench.method}
          onMethod={(next) => bench.choose("method", next)}
          onStops={bench.setStops}
        />
      )}
    </>
  );
}

function Plate({ table, back }: { table: Table; back: string | null }) {
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
      {back !== null && (
        <Link className="button main" to={back}>
          Back to where you were
        </Link>
      )}
      <PlateFacts engine={engine} />
      <FromTheManual engine={engine} />
    </header>
  );
}
