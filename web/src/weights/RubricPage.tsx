/** The rubric of a sheet: what its marks are worth together. */
import { useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { useNavigate, useParams } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { rubricLookQuery, rubricQuery } from "../api/queries";
import { Desk } from "../kit/Desk";
import { RubricForm } from "./RubricForm";
import type { Looked } from "./RubricLook";

const SAMPLE =
  "One reading off by one and a half tolerances, one wrong verdict, one wrong place, one valve " +
  "left blank, the closing list not ticked, 45 minutes.";

export default function RubricPage() {
  const { sheetId = "" } = useParams();
  const { data: sheet } = useSuspenseQuery(rubricQuery(Number(sheetId)));
  const queries = useQueryClient();
  const go = useNavigate();
  return (
    <Desk
      title="Rubric"
      from={{ to: `/board/${sheet.sheet_id}`, title: sheet.title }}
      about={`What the marks are worth together. ${
        sheet.number === 0
          ? "No weights set: every mark counts the same."
          : `Rubric ${sheet.number}, by ${sheet.made_by}.`
      }`}
    >
      <RubricForm
        key={sheet.number}
        place={`rubric-${sheet.sheet_id}`}
        weighed={sheet}
        toleranceMm={sheet.tolerance_mm}
        lookQuery={(rubric) => rubricLookQuery(sheet.sheet_id, rubric)}
        seen={seen}
        save={(rubric) =>
          unwrap(
            api.POST("/api/sheets/{sheet_id}/rubric", {
              params: { path: { sheet_id: sheet.sheet_id } },
              body: { rubric, based_on: sheet.number },
            }),
          )
        }
        onSaved={() => {
          queries.invalidateQueries({ queryKey: keys.sheet(sheet.sheet_id) });
          queries.invalidateQueries({ queryKey: keys.handIns });
          go(`/board/${sheet.sheet_id}`);
        }}
      />
    </Desk>
  );
}

function seen(look: Schemas["RubricLookOut"]): Looked {
  return {
    title: "A sheet with the usual mistakes",
    about: SAMPLE,
    sample: look.sample,
    label: "What it makes of the sheets handed in",
    rows: look.rows.map((row) => ({
      ...row,
      key: row.hand_in_id,
      to: `/hand-in/${row.hand_in_id}`,
    })),
  };
}
