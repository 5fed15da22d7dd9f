/** Readings that were written elsewhere, taken into a sheet: from a file, or typed from paper. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Segmented } from "antd";
import { useParams, useSearchParams } from "react-router";
import { boardQuery } from "../api/queries";
import { Desk } from "../kit/Desk";
import { FileIntake } from "./FileIntake";
import { PaperGrid } from "./PaperGrid";
import "./intake.css";

const WAYS = [
  { value: "file", label: "From a file" },
  { value: "paper", label: "Typed from paper" },
];

export default function IntakePage() {
  const { sheetId = "" } = useParams();
  const { data: board } = useSuspenseQuery(boardQuery(Number(sheetId)));
  const [search, setSearch] = useSearchParams();
  const way = search.get("way") === "paper" ? "paper" : "file";
  return (
    <Desk
      title="Take readings in"
      from={{ to: `/board/${board.id}`, title: board.title }}
      about={`${board.class_name}, ${board.stand}. What is taken in is marked at once, and shows your name beside the student's.`}
    >
      <div className="intake-page">
        <Segmented
          aria-label="Where the readings are"
          options={WAYS}
          value={way}
          onChange={(chosen) => setSearch({ way: chosen }, { replace: true })}
        />
        {way === "file" ? <FileIntake board={board} /> : <PaperGrid board={board} />}
      </div>
    </Desk>
  );
}
