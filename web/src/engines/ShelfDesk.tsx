/** The shelf as an instructor sees it: a list to search and sort, and engine files in and out. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Empty } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { enginesQuery } from "../api/queries";
import { layoutWord } from "../app/words";
import { type DataColumn, DataTable } from "../kit/DataTable";
import { Desk } from "../kit/Desk";
import { Life } from "../kit/Life";
import { RenameDialog } from "../kit/Rename";
import { EngineFile } from "./EngineFile";
import { EngineWays } from "./EngineWays";
import "./engines.css";

type Row = Schemas["EngineRow"];
const isAway = (engine: Row) => engine.away;

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
  { title: "More", right: true, show: (engine) => <EngineLife engine={engine} /> },
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
        away={isAway}
        empty={
          <Empty description="The shelf is empty. Write an engine from its manual, or add an engine file.">
            <Link className="button main" to="/engines/new">
              Write an engine
            </Link>
          </Empty>
        }
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

function changeEngine(engineId: number, body: Schemas["Changes"]) {
  const place = { params: { path: { engine_id: engineId } } };
  return unwrap(api.PATCH("/api/engines/{engine_id}", { ...place, body }));
}

function EngineLife({ engine }: { engine: Row }) {
  const [renaming, setRenaming] = useState(false);
  return (
    <>
      <Life
        name={engine.name}
        away={engine.away}
        about="Stands, sheets and drills that have it go on."
        more={[
          { key: "rename", label: "Rename…", onClick: () => setRenaming(true) },
          { key: "file", label: "Engine file", onClick: () => download(engine.id) },
        ]}
        putAway={(away) => changeEngine(engine.id, { away })}
        remove={() =>
          unwrap(
            api.DELETE("/api/engines/{engine_id}", { params: { path: { engine_id: engine.id } } }),
          )
        }
      />
      <RenameDialog
        open={renaming}
        name={engine.name}
        maxLength={120}
        about="Makes a new version; sheets and stands keep the one they were made with."
        save={(name) => changeEngine(engine.id, { name })}
        onClose={() => setRenaming(false)}
      />
    </>
  );
}

/** The server says that it is a file to keep, so the page stays. */
function download(engineId: number) {
  window.location.assign(`/api/engines/${engineId}/file`);
}
