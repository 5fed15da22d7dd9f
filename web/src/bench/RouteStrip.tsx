/** The route at the foot of the Bench: the stops of one method, each a way to go there. */
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { routeQuery } from "../api/queries";
import { Failure } from "../app/feedback";
import { degrees } from "../app/lengths";
import { MethodSelect } from "../app/MethodSelect";
import { PLAIN_WISH } from "../app/methods";
import { type Crank, useTold } from "./crank";
import "./route-strip.css";

type Props = {
  engine: Schemas["EngineFacts"];
  engineId: number;
  version: number | null;
  crank: Crank;
  method: string;
  onMethod: (method: string) => void;
  onStops: (stopsDeg: number[]) => void;
};

export function RouteStrip({ engine, engineId, version, crank, method, onMethod, onStops }: Props) {
  const route = useQuery(routeQuery(engineId, version, { ...PLAIN_WISH, method }));
  const stops = route.data?.stops;
  useEffect(() => onStops(stops?.map((stop) => stop.crank_deg) ?? []), [stops, onStops]);
  const here = useTold(crank, (deg) =>
    String(stops?.findIndex((s) => near(s.crank_deg, deg)) ?? -1),
  );

  return (
    <section className="card strip-route" aria-label="Route">
      <div className="strip-head">
        <span className="route-by">
          <span className="soft">Route by</span>
          <MethodSelect engine={engine} label="Route by" value={method} onChoose={onMethod} />
        </span>
        <Link className="button" to={`/methods/${engineId}${version ? `?version=${version}` : ""}`}>
          Compare
        </Link>
        <Link
          className="button"
          to={`/route/${engineId}?method=${method}${version ? `&version=${version}` : ""}`}
        >
          Route card
        </Link>
      </div>
      {route.isError && <Failure error={route.error} retry={() => route.refetch()} />}
      <ol className="stops">
        {stops?.map((stop, index) => (
          <li key={stop.stop}>
            <button
              type="button"
              onClick={() => crank.set(stop.crank_deg)}
              aria-current={here === String(index) ? "step" : undefined}
              title={stop.find_by}
            >
              <span>
                Stop {stop.stop} · <span className="figures">{degrees(stop.crank_deg)}</span>
              </span>
              <b>{stop.valves.join(" ") || "none"}</b>
              <span className="soft">
                {here === String(index) ? "you are here" : `turn ${degrees(stop.turn_deg)}`}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}

function near(one: number, other: number): boolean {
  return Math.abs(one - other) < 0.06;
}
