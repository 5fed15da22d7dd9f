/** The stands of the school: which are ready this morning, and why the others are not. */
import { useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Empty } from "antd";
import { Link, useNavigate } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { hallQuery } from "../api/workshop";
import { type DataColumn, DataTable } from "../kit/DataTable";
import { Desk } from "../kit/Desk";
import { EngineField } from "../kit/EngineField";
import { Life } from "../kit/Life";
import { NewNamed } from "../kit/NewNamed";
import { changeStand } from "./changeStand";
import { State } from "./State";
import { type HallStand, onMeter, STATES } from "./words";
import "./workshop.css";

const isAway = (stand: HallStand) => stand.away;

const COLUMNS: readonly DataColumn<HallStand>[] = [
  {
    title: "Stand",
    show: (stand) =>
      stand.mine ? <Link to={`/stand/${stand.id}`}>{stand.name}</Link> : <b>{stand.name}</b>,
    sort: (stand) => stand.name,
    find: (stand) => `${stand.name} ${stand.engine_name} ${stand.place}`,
  },
  {
    title: "How it is",
    show: (stand) => <State state={stand.state} why={stand.why} warmUntil={stand.warm_until} />,
    filter: (stand) => STATES[stand.state] ?? stand.state,
  },
  {
    title: "Engine and place",
    show: (stand) => (
      <>
        {stand.engine_name}
        <br />
        <span className="soft">{stand.place}</span>
      </>
    ),
    sort: (stand) => stand.engine_name,
  },
  {
    title: "Meter",
    right: true,
    show: (stand) => <span className="figures">{onMeter(stand.meter, stand.meter_unit)}</span>,
    sort: (stand) => (stand.meter === null ? null : Number(stand.meter)),
  },
  { title: "Used by", show: (stand) => stand.classes.join(", ") },
  {
    title: "More",
    right: true,
    show: (stand) =>
      stand.mine && (
        <Life
          name={stand.name}
          away={stand.away}
          about="Its logbook, sheets and marks stay."
          putAway={(away) => changeStand(stand.id, { away })}
          remove={() =>
            unwrap(
              api.DELETE("/api/stands/{stand_id}", { params: { path: { stand_id: stand.id } } }),
            )
          }
        />
      ),
  },
];

export default function HallPage() {
  const { data: stands } = useSuspenseQuery(hallQuery);
  const here = stands.filter((stand) => !stand.away);
  const ready = here.filter((stand) => stand.state === "ready").length;
  return (
    <Desk
      title="Stands of the school"
      about={here.length > 0 ? `${ready} of ${here.length} ready` : undefined}
      ways={
        <>
          <Link className="button" to="/store">
            Shim store
          </Link>
          <NewStand />
        </>
      }
    >
      <DataTable
        label="Stands"
        rows={stands}
        keyOf={(stand) => stand.id}
        away={isAway}
        columns={COLUMNS}
        empty={
          <Empty description="No stand yet. A stand is a practice engine in your hall: name one, then let a class use it." />
        }
      />
    </Desk>
  );
}

function NewStand() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  return (
    <NewNamed
      title="New stand"
      does="Add stand"
      wanted="Give the stand a name"
      placeholder="Stand 4"
      maxLength={80}
      make={(body: Schemas["HallStandIn"]) => unwrap(api.POST("/api/stands", { body }))}
      onMade={(made) => {
        queries.invalidateQueries({ queryKey: keys.stands });
        navigate(`/stand/${made.id}`);
      }}
    >
      <EngineField wanted="Choose its engine" />
    </NewNamed>
  );
}
