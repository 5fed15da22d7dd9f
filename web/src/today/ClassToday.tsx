/** A class's day, for its instructor and for the wall: hands, who is where and how far, stands. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../api/client";
import { classNowQuery } from "../api/now";
import { near, timeOfDay } from "../app/school";
import { usePageKeys } from "../app/usePageKeys";
import { useShopRoom } from "../app/useShopRoom";
import { counted } from "../app/words";
import { Hands } from "./Hands";
import { People } from "./People";
import "./today.css";

type Now = Schemas["ClassNowOut"];

export default function ClassToday() {
  const { classId = "" } = useParams();
  const id = Number(classId);
  const { data: now, isError } = useSuspenseQuery(classNowQuery(id));
  const { board, toggleBoard } = useShopRoom();
  useEffect(() => {
    document.title = `Today, ${now.name} · Edrix`;
  }, [now.name]);
  usePageKeys({ b: toggleBoard });
  return (
    <div className="today class-today">
      <header className="today-head">
        <h1>{now.name}</h1>
        <p className="today-slot">
          {now.now
            ? `${timeOfDay(now.now.starts_at)} to ${timeOfDay(now.now.ends_at)}`
            : "No slot of a rota now"}
        </p>
        <div className="ways">
          <Link className="button main" to={`/ask/${id}`}>
            {now.is_asked ? "To the question" : "Ask the class"}
          </Link>
          <Link className="button" to={`/classes/${id}/students`}>
            Class
          </Link>
          <button type="button" className="button" aria-pressed={board} onClick={toggleBoard}>
            Large and dark <kbd>B</kbd>
          </button>
        </div>
      </header>
      {isError && (
        <p className="notice" role="alert">
          The server cannot be reached. This is how it was; the page catches up.
        </p>
      )}
      <Hands classId={id} people={now.people} />
      <div className="today-body">
        <People now={now} />
        <aside>
          <Stands now={now} />
          <Came now={now} />
          <NextSlot now={now} />
        </aside>
      </div>
    </div>
  );
}

const STATE: Record<string, string> = {
  ready: "ready",
  warm: "warm",
  "worked-on": "being worked on",
  "out-of-order": "out of order",
};

function Stands({ now }: { now: Now }) {
  return (
    <section className="card today-card">
      <h2>Stands</h2>
      {now.stands.length === 0 && <p className="soft">This class uses no stand yet.</p>}
      <ul>
        {now.stands.map((stand) => (
          <li key={stand.id} className={`stand-now ${stand.state}`}>
            <Link to={`/stand/${stand.id}`}>{stand.name}</Link>
            <span>
              {STATE[stand.state]}
              {stand.state === "warm" &&
                stand.warm_until &&
                ` until ${timeOfDay(stand.warm_until)}`}
              {stand.why && `: ${stand.why}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Of whom is not said: it hangs on the wall. */
function Came({ now }: { now: Now }) {
  const handedIn = now.people.filter((one) => one.doing.some((d) => d.state === "handed-in"));
  const runs = now.people.flatMap((one) => one.doing).filter((d) => d.state === "ended").length;
  return (
    <section className="card today-card">
      <h2>What came in</h2>
      <p>
        {handedIn.length === 0
          ? "No sheet today."
          : `${counted(handedIn.length, "student")} handed in.`}
        {runs > 0 && ` ${counted(runs, "practice run")} ended.`}
      </p>
      {now.findings.length > 0 && (
        <ul>
          {now.findings.map((one) => (
            <li key={one.kind}>
              <span>{one.label}</span>
              <span className="figures">{one.students}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function NextSlot({ now }: { now: Now }) {
  if (now.next === null) return null;
  const name = new Map(now.people.map((one) => [one.id, one.name]));
  return (
    <section className="card today-card">
      <h2>Next, {near(now.next.starts_at)}</h2>
      <ul>
        {now.next.places.map((one) => (
          <li key={one.place}>
            <span>
              <b>{one.place}</b>, {one.task}
            </span>
            <span>{one.students.map((id) => name.get(id) ?? "").join(", ")}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
