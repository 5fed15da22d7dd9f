/** What the students of a class drilled alone, newest first. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { classDrillsQuery } from "../api/queries";
import { Empty } from "../app/feedback";
import { ListTable } from "../app/ListTable";

export function DrillsTab({ classId }: { classId: number }) {
  const { data: drills } = useSuspenseQuery(classDrillsQuery(classId));
  if (drills.length === 0) {
    return (
      <Empty title="No drills yet">
        Students find ten questions about each engine on the shelf, under Drill.
      </Empty>
    );
  }
  return (
    <ListTable
      label="Drills"
      rows={drills}
      keyOf={(drill) => drill.id}
      columns={[
        { title: "Student", show: (d) => d.person },
        {
          title: "Engine",
          show: (d) => <Link to={`/bench/${d.engine_id}`}>{d.engine_name}</Link>,
        },
        { title: "When", show: (d) => new Date(d.made_at).toLocaleString() },
        {
          title: "Right",
          right: true,
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
