/** The shelf as an instructor sees it: a list to search and sort, and engine files in and out. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { enginesQuery } from "../api/queries";
import { layoutWord } from "../app/words";
import { type DataColumn, DataTable } from "../kit/DataTable";
import { Desk } from "../kit/Desk";
import { EngineFile } from "./EngineFile";
import { EngineWays } from "./EngineWays";
import "./engines.css";

type Row = Schemas["EngineRow"];

const COLUMNS: readonly DataColumn<Row>[] = [
  {
    title: "Engine",
    show: (engine) => <Name engine={engine} />,
    sort: (engine) => engine.name,
    find: (engine) => engine.name,
  },
  {
    title: "Layout",
    show: (engine) => layoutWord(engine.layout),
    filter: (engine) => layoutWord(engine.layout),
    find: (engine) => layoutWord(engine.layout),
  },
  {
    title: "Cyl.",
    right: true,
    show: (engine) => engine.cylinders,
    sort: (engine) => engine.cylinders,
    filter: (engine) => String(engine.cylinders),
  },
  {
    title: "Valves",
    right: true,
    show: (engine) => engine.valves,
    sort: (engine) => engine.valves,
  },
  {
    title: "Go to",
    show: (engine) => <EngineWays engine={engine} mayTeach />,
  },
];

export default function ShelfDesk() {
  const { data: engines } = useSuspenseQuery(enginesQuery);
  return (
    <Desk
      title="Engines"
      about="Choose one to turn on the Bench."
      ways={
        <Link className="button main" to="/engines/new">
          Write a new engine
        </Link>
      }
    >
      <EngineFile />
      <DataTable
        label="Engines"
        rows={engines}
        keyOf={(engine) => engine.id}
        columns={COLUMNS}
        empty="The shelf is empty. Add an engine file (edrix-engine/1), or write a new engine."
      />
    </Desk>
  );
}

function Name({ engine }: { engine: Row }) {
  return (
    <div className="engine-name">
      <b>{engine.name}</b>
      <span className="soft">
        fires <span className="figures">{engine.firing_order.join("–")}</span>
        {engine.version > 1 && `, version ${engine.version}`}
      </span>
    </div>
  );
}
