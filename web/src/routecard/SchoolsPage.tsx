/** The schools of sequence side by side on one engine. */
import { useQuery, useSuspenseQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../api/client";
import { cycleQuery, schoolsQuery } from "../api/queries";
import { Failure, Waiting } from "../app/feedback";
import { degrees } from "../app/lengths";
import { schoolName, schoolOf } from "./schools";
import { useWish } from "./useWish";
import { WishFields } from "./WishFields";
import "./schools.css";

type School = Schemas["SchoolOut"];

const CYCLE_DEG = 720;
/** The widest margin drawn: beyond it every hand is safe. */
const WIDE_MARGIN_DEG = 130;

export default function SchoolsPage() {
  const { engineId = "" } = useParams();
  const { search, wish, choose, carried } = useWish();
  const id = Number(engineId);
  const version = Number(search.get("version")) || null;
  const { engine } = useSuspenseQuery(cycleQuery(id, version)).data;
  const schools = useQuery(schoolsQuery(id, version, wish));
  useEffect(() => {
    document.title = `${engine.name} · Schools · Edrix`;
  }, [engine]);
  const found = schools.data ?? [];
  const serving = found.filter((school) => school.plan.complete);
  return (
    <article className="schools-page">
      <div className="place-head">
        <div>
          <h1>{engine.name}: the schools side by side</h1>
          <p>
            {schools.data
              ? `${serving.length} of ${found.length} schools serve this engine whole.`
              : "Computing every school."}
          </p>
        </div>
        <Link className="button" to={`/bench/${id}${version ? `?version=${version}` : ""}`}>
          Bench
        </Link>
      </div>
      <div className="route-tools">
        <WishFields search={search} wish={wish} choose={choose} />
      </div>
      {schools.isPending && <Waiting />}
      {schools.isError && <Failure error={schools.error} retry={() => schools.refetch()} />}
      <ol className="schools">
        {found.map((school) => (
          <SchoolRow
            key={school.plan.method}
            school={school}
            fewest={Math.min(...serving.map((s) => s.plan.stops.length))}
            cardPath={`/route/${id}${carried(school.plan.method)}`}
          />
        ))}
      </ol>
    </article>
  );
}

type RowProps = { school: School; fewest: number; cardPath: string };

function SchoolRow({ school, fewest, cardPath }: RowProps) {
  const { plan } = school;
  return (
    <li className="card school" data-serves={plan.complete}>
      <div className="school-name">
        <h2>{schoolName(plan.method)}</h2>
        <p className="soft">{schoolOf(plan.method)?.about}</p>
        <p className="school-says">
          <Mark good={plan.complete} /> {school.says}
        </p>
      </div>
      <Circle plan={plan} />
      <dl className="school-figures">
        <div>
          <dt>Stops</dt>
          <dd>
            {plan.stops.length}
            {plan.complete && plan.stops.length === fewest && <small> fewest</small>}
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
      <div className="school-asks">
        <p>
          <span className="soft">You must tell</span> {school.recognise}.
        </p>
        <ul>
          {school.needs.map((need) => (
            <li key={need.what}>
              <Mark good={need.met} /> {need.what}
            </li>
          ))}
        </ul>
      </div>
      <Link
        className="button"
        to={cardPath}
        aria-label={`Route card by ${schoolName(plan.method)}`}
      >
        Route card
      </Link>
    </li>
  );
}

/** Yes, no, or not to be told from the engine file; by shape and word, not by colour alone. */
function Mark({ good }: { good: boolean | null }) {
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
function Circle({ plan }: { plan: School["plan"] }) {
  return (
    <svg className="school-circle" viewBox="-40 -40 80 80" aria-hidden="true">
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
