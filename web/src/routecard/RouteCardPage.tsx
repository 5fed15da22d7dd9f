/** The route card: stops and valves of one engine by one school, for the screen and on one page. */
import { useQuery, useSuspenseQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { cycleQuery, routeQuery } from "../api/queries";
import { Badge } from "../app/Badge";
import { Choice } from "../app/Choice";
import { Failure, Waiting } from "../app/feedback";
import { degrees } from "../app/lengths";
import { PlateFact, PlateFacts } from "../app/PlateFacts";
import { SCHOOLS, schoolName, schoolOf } from "./schools";
import "./routecard.css";

type Facts = Schemas["EngineFacts"];
type Plan = Schemas["PlanOut"];

export default function RouteCardPage() {
  const { engineId = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const id = Number(engineId);
  const version = Number(search.get("version")) || null;
  const wish = {
    method: search.get("method") ?? "two-stop",
    startDeg: Number(search.get("start")) || 0,
    direction: search.get("direction") ?? "running",
  };
  const { engine } = useSuspenseQuery(cycleQuery(id, version)).data;
  const route = useQuery(routeQuery(id, version, wish));
  useEffect(() => {
    document.title = `${engine.name} · Route card · Edrix`;
  }, [engine]);

  function choose(name: string, value: string) {
    const changed = new URLSearchParams(search);
    changed.set(name, value);
    setSearch(changed, { replace: true });
  }

  return (
    <article className="route-card">
      <div className="route-tools">
        <select
          className="field"
          aria-label="School of sequence"
          value={wish.method}
          onChange={(event) => choose("method", event.target.value)}
        >
          {SCHOOLS.map((school) => (
            <option key={school.method} value={school.method}>
              {school.name}
            </option>
          ))}
        </select>
        <Choice
          label="Direction of turning"
          options={[
            { value: "running", label: "Running way" },
            { value: "reverse", label: "Backwards" },
          ]}
          value={wish.direction}
          onChoose={(direction) => choose("direction", direction)}
        />
        <span className="grow" />
        <Link
          className="button"
          to={`/bench/${id}?method=${wish.method}${version ? `&version=${version}` : ""}`}
        >
          Bench
        </Link>
        <button type="button" className="button main" onClick={() => window.print()}>
          Print
        </button>
      </div>
      <section className="card sheet-of-paper">
        <Head engine={engine} method={wish.method} />
        {route.isPending && <Waiting />}
        {route.isError && <Failure error={route.error} retry={() => route.refetch()} />}
        {route.data && (
          <Stops plan={route.data} engine={engine} benchPath={`/bench/${id}`} version={version} />
        )}
        <Cautions measured={engine.measured} />
      </section>
    </article>
  );
}

function Head({ engine, method }: { engine: Facts; method: string }) {
  return (
    <header className="card-head">
      <div>
        <p className="soft">
          Route card · {schoolName(method)}: {schoolOf(method)?.about}
        </p>
        <h1>{engine.name}</h1>
      </div>
      <PlateFacts engine={engine}>
        <PlateFact name="Turns">{engine.rotation}</PlateFact>
      </PlateFacts>
    </header>
  );
}

type StopsProps = { plan: Plan; engine: Facts; benchPath: string; version: number | null };

function Stops({ plan, engine, benchPath, version }: StopsProps) {
  const role = (number: number) => engine.valves.find((v) => v.number === number)?.role ?? "intake";
  return (
    <>
      <p className={plan.complete ? "notice calm" : "notice"} role="status">
        {plan.complete
          ? `Every valve is set once, ${plan.stops.length} stops, ${degrees(plan.total_turn_deg)} of turning. Least margin: `
          : "This route does not serve this engine whole. Least margin of what it sets: "}
        <b className="figures">
          {plan.least_margin_deg === null ? "none" : degrees(plan.least_margin_deg)}
        </b>
        {plan.unset.length > 0 && <>. Not set: valves {plan.unset.join(", ")}</>}.
      </p>
      {plan.warnings.length > 0 && (
        <ul className="warnings">
          {plan.warnings.map((warning) => (
            <li key={warning}>{warning}</li>
          ))}
        </ul>
      )}
      <table className="stops-table">
        <thead>
          <tr>
            <th scope="col">Stop</th>
            <th scope="col">Turn</th>
            <th scope="col">Crank</th>
            <th scope="col">How to know it</th>
            <th scope="col">Set these valves</th>
            <th scope="col">Margin</th>
            <th scope="col">
              <span className="visually-hidden">Open on the Bench</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {plan.stops.map((stop) => (
            <tr key={stop.stop}>
              <th scope="row">{stop.stop}</th>
              <td className="figures turn">{degrees(stop.turn_deg)}</td>
              <td className="figures crank">{degrees(stop.crank_deg)}</td>
              <td className="find-by">{stop.find_by}</td>
              <td className="valves">
                <div className="set-these">
                  {stop.valves.map((number) => (
                    <span key={number} className="set-one">
                      <Badge number={number} role={role(number)} size={38} />
                      <i className="tick-box" aria-hidden="true" />
                    </span>
                  ))}
                  {stop.valves.length === 0 && "none"}
                </div>
              </td>
              <td className="figures margin">
                {stop.margin_deg === null ? "–" : degrees(stop.margin_deg)}
              </td>
              <td className="to-bench">
                <Link
                  className="button"
                  to={`${benchPath}?at=${stop.crank_deg}&method=${plan.method}${version ? `&version=${version}` : ""}`}
                  aria-label={`Open stop ${stop.stop} on the Bench`}
                >
                  Bench
                </Link>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function Cautions({ measured }: { measured: string }) {
  return (
    <footer className="cautions">
      <h2>Before turning by hand</h2>
      <ul>
        <li>
          Ignition and starter off, battery disconnected or air start shut, stop lever at stop.
        </li>
        <li>Gearbox neutral; engine and stand secured; plugs or indicator cocks open.</li>
        <li>
          Engine{" "}
          {measured === "cold" ? "cold, stood for hours" : "hot as the manual says: mind burns"}.
          Hands clear of the ring gear.
        </li>
        <li>After setting: lock nuts rechecked, tools counted, turning tool off the crank.</li>
      </ul>
      <p>
        Local rules, the maker's manual and your supervising licensed person come first. Edrix
        teaches; it does not certify an engine.
      </p>
    </footer>
  );
}
