/** A student's reading sheets and practice runs: what is to be done, and what was earned. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Suspense, useEffect, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { workQuery } from "../api/queries";
import { Boundary } from "../app/Boundary";
import { AsLastKnown, Empty, Waiting } from "../app/feedback";
import { canBeKept } from "../app/serviceWorker";
import { OwnSkills } from "../progress/OwnSkills";
import { OwnWeek } from "./OwnWeek";
import { PracticeList } from "./PracticeList";
import { ToDo } from "./ToDo";
import "./sheets.css";

type Work = Schemas["WorkRow"];

/** Of what is over, so many are in sight; the others are asked for. */
const IN_SIGHT = 3;

export default function WorkPage() {
  const { data: work, error } = useSuspenseQuery(workQuery);
  useEffect(() => {
    document.title = "My sheets · Edrix";
  }, []);
  const toDo = work.filter((sheet) => sheet.handed_in_at === null && !sheet.closed);
  const over = work.filter((sheet) => sheet.handed_in_at !== null || sheet.closed);
  return (
    <div className="work">
      <div className="place-head">
        <h1>My sheets</h1>
      </div>
      <AsLastKnown error={error} />
      {work.length === 0 && (
        <Empty title="Nothing to do yet">
          Your instructor sets reading sheets here. Until then, turn an engine on the Bench.
        </Empty>
      )}
      {work.length > 0 && toDo.length === 0 && (
        <p className="soft">Everything is handed in. Practise below, or turn an engine.</p>
      )}
      <Boundary>
        <Suspense fallback={null}>
          <OwnWeek />
        </Suspense>
      </Boundary>
      <SheetList work={toDo.sort(byDue)} />
      <Boundary>
        <Suspense fallback={<Waiting />}>
          <PracticeList />
          <Over work={over} />
          <OwnSkills />
        </Suspense>
      </Boundary>
      {!canBeKept() && (
        <p className="soft">
          At this address your pages do not open without a network.{" "}
          <Link to="/me#device">Why, and what helps</Link>
        </p>
      )}
    </div>
  );
}

/** What is due first stands first; what is never due, in the order in which it was set. */
function byDue(one: Work, other: Work): number {
  if (one.closes_at === other.closes_at) return 0;
  if (one.closes_at === null) return 1;
  return other.closes_at === null ? -1 : one.closes_at.localeCompare(other.closes_at);
}

function Over({ work }: { work: readonly Work[] }) {
  const [all, setAll] = useState(false);
  if (work.length === 0) return null;
  return (
    <section>
      <h2>Handed in</h2>
      <SheetList work={all ? work : work.slice(0, IN_SIGHT)} />
      {!all && work.length > IN_SIGHT && (
        <button type="button" className="button" onClick={() => setAll(true)}>
          {work.length - IN_SIGHT} earlier ones
        </button>
      )}
    </section>
  );
}

function SheetList({ work }: { work: readonly Work[] }) {
  return (
    <ul className="work-list">
      {work.map((sheet) => (
        <li key={sheet.id}>
          <Link to={`/sheet/${sheet.id}`} className="card work-row">
            <span>
              <b>{sheet.title}</b>
              <span className="soft">
                {sheet.engine}, {sheet.stand} · {sheet.class_name}
              </span>
            </span>
            <State sheet={sheet} />
          </Link>
        </li>
      ))}
    </ul>
  );
}

function State({ sheet }: { sheet: Work }) {
  if (sheet.points !== null) {
    return (
      <span className="tag">
        <span className="figures">
          {sheet.points} / {sheet.out_of}
        </span>
        {sheet.waits && " so far"}
      </span>
    );
  }
  if (sheet.closed) return <span className="tag">closed</span>;
  return <ToDo sheet={sheet} />;
}
