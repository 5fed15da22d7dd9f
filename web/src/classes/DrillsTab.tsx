/** What was drilled in a class, alone or before it, newest first. */

import { useSuspenseQuery } from "@tanstack/react-query";
import { Empty } from "antd";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { classDrillsQuery } from "../api/queries";
import { moment } from "../app/school";
import { DataTable } from "../kit/DataTable";

type Drill = Schemas["ScoreOut"];

export function DrillsTab({ classId }: { classId: number }) {
  const { data: drills } = useSuspenseQuery(classDrillsQuery(classId));
  return (
    <DataTable
      label="Drills"
      rows={drills}
      keyOf={(drill) => drill.id}
      empty={
        <Empty description="No drills yet. Students find ten questions about each engine, under Drill." />
      }
      columns={[
        {
          title: "Who",
          show: (d: Drill) => (d.held === "class" ? `the class, with ${d.person}` : d.person),
          sort: (d) => d.person,
          find: (d) => d.person,
        },
        {
          title: "Engine",
          show: (d) => (
            <>
              <Link to={`/bench/${d.engine_id}`}>{d.engine_name}</Link>
              {d.title !== "" && <span className="soft"> {d.title}</span>}
            </>
          ),
          sort: (d) => d.engine_name,
          filter: (d) => d.engine_name,
        },
        {
          title: "When",
          show: (d) => moment(d.made_at),
          sort: (d) => d.made_at,
        },
        {
          title: "Right",
          right: true,
          sort: (d) => d.right / d.questions,
          show: (d) => (
            <span className="figures">
              {d.right} of {d.questions}
              {d.answered < d.questions && `, ${d.answered} answered`}
            </span>
          ),
        },
      ]}
    />
  );
}
