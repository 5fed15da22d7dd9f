/** One reading sheet: filled in by a student, questioned, handed in once; then its marks. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import { sheetQuery } from "../api/queries";
import { Words } from "../app/Words";
import { MarksList } from "../marks/MarksList";
import { Answer } from "./Answer";
import { Filling } from "./Filling";
import "./sheets.css";

export default function SheetPage() {
  const { sheetId = "" } = useParams();
  const { data: sheet } = useSuspenseQuery(sheetQuery(Number(sheetId)));
  useEffect(() => {
    document.title = `${sheet.title} · Edrix`;
  }, [sheet]);
  return (
    <div className="sheet">
      <header className="sheet-head">
        <div>
          <h1>{sheet.title}</h1>
          <p className="soft">
            {sheet.engine}, {sheet.stand}. Engine {sheet.measured}.
          </p>
        </div>
        <Link
          className="button"
          to={`/bench/${sheet.engine_id}?version=${sheet.engine_version}&method=${sheet.method}`}
        >
          Bench
        </Link>
      </header>
      {sheet.notices.map((line) => (
        <p key={line} className="notice">
          {line}
        </p>
      ))}
      {sheet.result === null ? (
        <Filling key={sheet.id} sheet={sheet} />
      ) : (
        <>
          <Hints hints={sheet.result.hints} />
          <Waits kinds={sheet.result.waits} graded={sheet.result.grade !== null} />
          <MarksList
            own
            result={sheet.result}
            valves={sheet.valves}
            columns={sheet.columns}
            ways={(marks) => <Answer sheet={sheet} marks={marks} />}
          />
        </>
      )}
    </div>
  );
}

/** What is told later, and why: a second sheet on the same gaps would tell the key. */
function Waits({ kinds, graded }: { kinds: readonly string[]; graded: boolean }) {
  if (kinds.length > 0) {
    const marks = kinds.join(" and ").toLowerCase();
    return (
      <p className="notice calm">
        You have measured this stand before, so your {marks} marks and your grade are shown when
        your instructor releases them. Together with the first ones they would tell the reference.
      </p>
    );
  }
  if (graded) return null;
  return <p className="soft">Your grade is shown when your instructor releases it.</p>;
}

/** Where to look again; nobody is told what the gap is. */
function Hints({ hints }: { hints: readonly string[] }) {
  if (hints.length === 0) return null;
  return (
    <section className="notice calm" aria-label="Where to look again">
      <h2>Look again</h2>
      <ul>
        {hints.map((hint) => (
          <li key={hint}>
            <Words text={hint} />
          </li>
        ))}
      </ul>
    </section>
  );
}
