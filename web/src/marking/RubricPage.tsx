/** The rubric of a sheet: weights typed on the left, what they make of everybody on the right. */

import { useMutation, useQuery, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Alert, Button, Tooltip } from "antd";
import { type FormEvent, useDeferredValue, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { rubricLookQuery, rubricQuery } from "../api/queries";
import { same } from "../app/merging";
import { useLongForm } from "../app/useLongForm";
import { Desk } from "../kit/Desk";
import { FormClashes } from "../kit/FormClashes";
import { Problem } from "../kit/Problem";
import { Limits, Weights } from "./RubricFields";
import { RubricLook } from "./RubricLook";
import { asRubric, asTyped, nameOfField, noFigures } from "./rubric";
import "./rubric.css";

type Rubric = Schemas["RubricOut"];

export default function RubricPage() {
  const { sheetId = "" } = useParams();
  const { data: sheet } = useSuspenseQuery(rubricQuery(Number(sheetId)));
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
      <RubricForm key={sheet.number} sheet={sheet} />
    </Desk>
  );
}

function RubricForm({ sheet }: { sheet: Rubric }) {
  const [first] = useState(() => asTyped(sheet.rubric));
  // Of this very rubric: over a newer one it would undo what a colleague set.
  const form = useLongForm(`rubric-${sheet.sheet_id}-${sheet.number}`, first);
  const { typed, change: setTyped, forget } = form;
  const wrong = noFigures(typed, sheet.parts);
  const rubric = asRubric(typed, sheet.parts);
  const look = useQuery({
    ...rubricLookQuery(sheet.sheet_id, useDeferredValue(rubric)),
    enabled: wrong.length === 0,
  });
  const set = useSetRubric(sheet, forget);
  const refused = look.error instanceof ApiProblem ? look.error : null;
  return (
    <div className="rubric">
      <form
        className="rubric-form"
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          set.mutate(rubric);
        }}
      >
        <FormClashes form={form} nameOf={(field) => nameOfField(field, sheet.parts)} />
        <Templates sheet={sheet} onChoose={(chosen) => setTyped(asTyped(chosen))} />
        <Weights parts={sheet.parts} typed={typed} onType={setTyped} />
        <Limits toleranceMm={sheet.tolerance_mm} typed={typed} onType={setTyped} />
        {wrong.length > 0 ? (
          <Alert type="error" showIcon title={`Give a number for ${wrong.join(" and ")}.`} />
        ) : (
          <Problem error={set.error ?? refused} />
        )}
        <p className="ways">
          <Button
            type="primary"
            htmlType="submit"
            loading={set.isPending}
            disabled={wrong.length > 0 || look.isError || look.isPending}
          >
            Save rubric
          </Button>
          {!same(typed, first) && <Button onClick={forget}>As it is saved</Button>}
        </p>
      </form>
      <RubricLook look={look.data} />
    </div>
  );
}

function useSetRubric(sheet: Rubric, onSet: () => void) {
  const queries = useQueryClient();
  const go = useNavigate();
  return useMutation({
    mutationFn: (rubric: Schemas["RubricIn"]) =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/rubric", {
          params: { path: { sheet_id: sheet.sheet_id } },
          body: { rubric, based_on: sheet.number },
        }),
      ),
    onSuccess: () => {
      onSet();
      queries.invalidateQueries({ queryKey: keys.sheet(sheet.sheet_id) });
      queries.invalidateQueries({ queryKey: keys.handIns });
      go(`/board/${sheet.sheet_id}`);
    },
  });
}

type TemplatesProps = { sheet: Rubric; onChoose: (rubric: Schemas["RubricFieldsOut"]) => void };

function Templates({ sheet, onChoose }: TemplatesProps) {
  return (
    <div className="card">
      <h2>Start from</h2>
      <div className="ways">
        {sheet.templates.map((template) => (
          <Tooltip key={template.name} title={template.says}>
            <Button onClick={() => onChoose(template.rubric)}>{template.title}</Button>
          </Tooltip>
        ))}
      </div>
    </div>
  );
}
