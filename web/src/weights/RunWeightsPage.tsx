/** What runs on a practice engine are worth: seen on a sample and on every run before it counts. */
import { useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { useNavigate, useParams } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { runWeightsLookQuery, runWeightsQuery } from "../api/queries";
import { Desk } from "../kit/Desk";
import { RubricForm } from "./RubricForm";
import type { Looked } from "./RubricLook";

const SAMPLE =
  "One valve never measured, one measured off its heel, one figure that rests on no leaf, one " +
  "valve left loose, the tools not counted, 45 minutes.";

export default function RunWeightsPage() {
  const { practiceId = "" } = useParams();
  const { data: runs } = useSuspenseQuery(runWeightsQuery(Number(practiceId)));
  const queries = useQueryClient();
  const go = useNavigate();
  const back = `/classes/${runs.class_id}/practice`;
  return (
    <Desk
      title="What runs are worth"
      from={{ to: back, title: runs.title }}
      about={`${
        runs.number === 0
          ? "No weights set: every part counts the same."
          : `Weights ${runs.number}, by ${runs.made_by}.`
      } A run whose engine is not fit, or whose figures are made up, never passes.`}
    >
      <RubricForm
        key={runs.number}
        place={`run-rubric-${runs.practice_id}`}
        weighed={runs}
        toleranceMm={null}
        lookQuery={(rubric) => runWeightsLookQuery(runs.practice_id, rubric)}
        seen={seen}
        save={(rubric) =>
          unwrap(
            api.POST("/api/practice/{practice_id}/rubric", {
              params: { path: { practice_id: runs.practice_id } },
              body: { rubric, based_on: runs.number },
            }),
          )
        }
        onSaved={() => {
          queries.invalidateQueries({ queryKey: keys.practice(runs.practice_id) });
          queries.invalidateQueries({ queryKey: keys.runs });
          go(back);
        }}
      />
    </Desk>
  );
}

function seen(look: Schemas["RunWeightsLookOut"]): Looked {
  return {
    title: "A run with the usual mistakes",
    about: SAMPLE,
    sample: look.sample,
    label: "What it makes of the runs that have ended",
    rows: look.rows.map((row) => ({
      ...row,
      student: `${row.student}, run ${row.attempt}`,
      key: row.run_id,
      to: `/debrief/${row.run_id}`,
    })),
  };
}
