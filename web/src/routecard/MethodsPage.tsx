/** The methods of sequence side by side on one engine. */

import { useQuery, useSuspenseQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../api/client";
import { comparedQuery, cycleQuery } from "../api/queries";
import { BoardButton } from "../app/BoardButton";
import { Failure, Waiting } from "../app/feedback";
import { degrees } from "../app/lengths";
import { useMethod } from "../app/methods";
import { Words } from "../app/Words";
import { useWish } from "./useWish";
import { WishFields } from "./WishFields";
import "./methods.css";

type Compared = Schemas["ComparedOut"];

const CYCLE_DEG = 720;
/** The widest margin drawn: beyond it every hand is safe. */
const WIDE_MARGIN_DEG = 130;

export default function MethodsPage() {
  const { engineId = "" } = useParams();
  const { search, wish, choose, carried } = useWish();
  const id = Number(engineId);
  const version = Number(search.get("version")) || null;
  const { engine } = useSuspenseQuery(cycleQuery(id, version)).data;
  const compared = useQuery(comparedQuery(id, version, wish));
  useEffect(() => {
    document.title = `${engine.name} · Methods · Edrix`;
  }, [engine]);
  const found = compared.data ?? [];
  const covering = found.filter(serves);
  return (
    <article className="methods-page">
      <div className="place-head">
        <div>
          <h1>{engine.name}: the methods side by side</h1>
          <p>
            {compared.data
              ? `${covering.length} of ${found.length} methods cover every valve of this engine.`
              : "Working out every method."}
          </p>
        </div>
        <span className="ways">
          <BoardButton />
          <Link className="button" to={`/bench/${id}${version ? `?version=${version}` : ""}`}>
            Bench
          </Link>
        </span>
      </div>
      <div className="route-tools">
        <WishFields search={search} wish={wish} choose={choose} />
      </div>
      {compared.isPending && <Waiting />}
      {compared.isError && <Failure error={compared.error} retry={() => compared.refetch()} />}
      <ol className="methods">
        {found.map((one) => (
          <MethodRow
            key={one.plan.method}
            compared={one}
            fewest={Math.min(...covering.map((s) => s.plan.stops.length))}
            cardPath={`/route/${id}${carried(one.plan.method)}`}
          />
        ))}
      </ol>
    </article>
  );
}

/** A sign that cannot be seen on this engine leads nobody round it, however well it would do. */
function serves({ plan, offered }: Compared): boolean {
  return plan.complete && offered;
}

type RowProps = { compared: Compared; fewest: number; cardPath: string };

function MethodRow({ compared, fewest, cardPath }: RowProps) {
  const { plan } = compared;
  const method = useMethod(plan.method);
  const isServing = serves(compared);
  return (
    <li className="card method" data-covers={isServing}>
      <div className="method-name">
        <h2>{method.title}</h2>
        <p className="soft">{method.about}</p>
        <p className="method-says">
          <YesNo good={isServing} /> <Words text={compared.says} />
        </p>
      </div>
      <Circle plan={plan} />
      <dl className="method-figures">
        <div>
          <dt>Stops</dt>
          <dd>
            {plan.stops.length}
            {isServing && plan.stops.length === fewest && <small> fewest</small>}
          </dd>
        </div>
        <div>
          <dt>Turning</dt>
          <dd>{plan.stops.length ? degrees(plan.total_turn_deg) : "–"}</dd>
        </div>
        <div>
          <dt>Least margin</dt>
          <dd>
            {plan.least_margin_deg === null ? "–" : degrees(plan.least_margin_deg)}
            <Bar share={(plan.least_margin_deg ?? 0) / WIDE_MARGIN_DEG} />
          </dd>
        </div>
      </dl>
      <div className="method-asks">
        <p>
          <span className="soft">You must tell</span> {compared.recognise}.
        </p>
        <ul>
          {compared.needs.map((need) => (
            <li key={need.what}>
              <YesNo good={need.met} /> {need.what}
            </li>
          ))}
        </ul>
      </div>
      <Link className="button" to={cardPath} aria-label={`Route card by ${method.title}`}>
        Route card
      </Link>
    </li>
  );
}

/** Yes, no, or not to be told from the engine file; by shape and word, not by colour alone. */
function YesNo({ good }: { good: boolean | null }) {
  const says = good === null ? "look" : good ? "yes" : "no";
  return <b className={`mark-word ${says}`}>{says}</b>;
}

function Bar({ share }: { share: number }) {
  return (
    <svg className="margin-bar" viewBox="0 0 100 6" preserveAspectRatio="none" aria-hidden="true">
      <rect width="100" height="6" className="trough" />
      <rect width={Math.max(0, Math.min(1, share)) * 100} height="6" />
    </svg>
  );
}

/** The cycle as a circle of two turns, with a dot at each stop. */
function Circle({ plan }: { plan: Compared["plan"] }) {
  return (
    <svg className="method-circle" viewBox="-40 -40 80 80" aria-hidden="true">
      <circle r="32" className="ring" />
      <path d="M0,-38V-26" className="zero" />
      {plan.stops.map((stop) => {
        const turn = (stop.crank_deg / CYCLE_DEG) * 2 * Math.PI;
        return (
          <circle
            key={stop.stop}
            cx={32 * Math.sin(turn)}
            cy={-32 * Math.cos(turn)}
            r={plan.stops.length > 16 ? 2.5 : 4.5}
            className="at"
          />
        );
      })}
    </svg>
  );
}
