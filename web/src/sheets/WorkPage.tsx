/** A student's reading sheets and practice runs: what is to be done, and what was earned. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Suspense, useEffect } from "react";
import { Link } from "react-router";
import { workQuery } from "../api/queries";
import { Boundary } from "../app/Boundary";
import { Empty, Waiting } from "../app/feedback";
import { OwnSkills } from "../progress/OwnSkills";
import { PracticeList } from "./PracticeList";
import "./sheets.css";

export default function WorkPage() {
  const { data: work } = useSuspenseQuery(workQuery);
  useEffect(() => {
    document.title = "My sheets · Edrix";
  }, []);
  return (
    <div className="work">
      <div className="place-head">
        <h1>My sheets</h1>
      </div>
      {work.length === 0 && (
        <Empty title="Nothing to do yet">
          Your instructor sets reading sheets here. Until then, turn an engine on the Bench.
        </Empty>
      )}
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
              {sheet.points === null ? (
                <span className="tag to-do">to do</span>
              ) : (
                <span className="tag">
                  <span className="figures">
                    {sheet.points} / {sheet.out_of}
                  </span>
                  {sheet.waits && " so far"}
                </span>
              )}
            </Link>
          </li>
        ))}
      </ul>
      <Boundary>
        <Suspense fallback={<Waiting />}>
          <PracticeList />
          <OwnSkills />
        </Suspense>
      </Boundary>
    </div>
  );
}
