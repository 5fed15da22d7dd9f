/** One class: its students, its stands with their keys, its reading sheets, practice engines and drills. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Suspense, useEffect } from "react";
import { Link, Navigate, NavLink, useParams } from "react-router";
import { classQuery } from "../api/queries";
import { Waiting } from "../app/feedback";
import { Toolkit } from "../app/Toolkit";
import { DrillsTab } from "./DrillsTab";
import { PracticeTab } from "./PracticeTab";
import { SheetsTab } from "./SheetsTab";
import { StandsTab } from "./StandsTab";
import { StudentsTab } from "./StudentsTab";
import "./classes.css";

const PLACES = [
  ["students", "Students"],
  ["stands", "Stands and keys"],
  ["sheets", "Reading sheets"],
  ["practice", "Practice engines"],
  ["drills", "Drills"],
] as const;

export default function ClassPage() {
  const { classId = "", tab = "" } = useParams();
  const id = Number(classId);
  const { data: found } = useSuspenseQuery(classQuery(id));
  useEffect(() => {
    document.title = `${found.name} · Edrix`;
  }, [found]);
  if (!PLACES.some(([place]) => place === tab)) {
    return <Navigate to={`/classes/${id}/students`} replace />;
  }
  return (
    <Toolkit>
      <div className="classes">
        <div className="place-head">
          <div>
            <p>
              <Link to="/classes">Classes</Link>
            </p>
            <h1>{found.name}</h1>
          </div>
          <a className="button" href={`/api/classes/${id}/archive.zip`} download>
            Whole class as a file
          </a>
        </div>
        <nav className="class-places" aria-label="In this class">
          {PLACES.map(([place, label]) => (
            <NavLink key={place} to={`/classes/${id}/${place}`} replace>
              {label}
            </NavLink>
          ))}
        </nav>
        <Suspense fallback={<Waiting />}>
          {tab === "students" && <StudentsTab classId={id} students={found.students} />}
          {tab === "stands" && <StandsTab classId={id} />}
          {tab === "sheets" && <SheetsTab classId={id} />}
          {tab === "practice" && <PracticeTab classId={id} />}
          {tab === "drills" && <DrillsTab classId={id} />}
        </Suspense>
      </div>
    </Toolkit>
  );
}
