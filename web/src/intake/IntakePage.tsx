/** Readings that were written elsewhere, taken into a sheet: from a file, or typed from paper. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { boardQuery } from "../api/queries";
import { Choice } from "../app/Choice";
import { FileIntake } from "./FileIntake";
import { PaperGrid } from "./PaperGrid";
import "./intake.css";

const WAYS = [
  { value: "file", label: "From a file" },
  { value: "paper", label: "Typed from paper" },
] as const;

export default function IntakePage() {
  const { sheetId = "" } = useParams();
  const { data: board } = useSuspenseQuery(boardQuery(Number(sheetId)));
  const [search, setSearch] = useSearchParams();
  const way = search.get("way") === "paper" ? "paper" : "file";
  useEffect(() => {
    document.title = `Take readings in · ${board.title} · Edrix`;
  }, [board]);
  return (
    <div className="intake">
      <div className="place-head">
        <div>
          <p>
            <Link to={`/board/${board.id}`}>{board.title}</Link>
          </p>
          <h1>Take readings in</h1>
          <p>
            {board.class_name}, {board.stand}. What is taken in is marked at once; it shows your
            name beside the student's.
          </p>
        </div>
      </div>
      <Choice
        label="Where the readings are"
        options={WAYS}
        value={way}
        onChoose={(chosen) => setSearch({ way: chosen }, { replace: true })}
      />
      {way === "file" ? <FileIntake board={board} /> : <PaperGrid board={board} />}
    </div>
  );
}
