/** Weights typed on the left, what they make of everybody on the right: of a sheet or of runs. */
import { type UseQueryOptions, useMutation, useQuery } from "@tanstack/react-query";
import { Alert, Button, Tooltip } from "antd";
import { type FormEvent, useDeferredValue, useState } from "react";
import { ApiProblem, type Schemas } from "../api/client";
import { same } from "../app/merging";
import { useLongForm } from "../app/useLongForm";
import { FormClashes } from "../kit/FormClashes";
import { Problem } from "../kit/Problem";
import { Limits, Weights } from "./RubricFields";
import { type Looked, RubricLook } from "./RubricLook";
import { asRubric, asTyped, nameOfField, noFigures } from "./rubric";
import "./rubric.css";

export type Weighed = {
  number: number;
  rubric: Schemas["RubricFieldsOut"];
  templates: readonly Schemas["TemplateOut"][];
  parts: readonly Schemas["PartOut"][];
};

type Props<Look> = {
  /** What this form is called where it is kept while it is typed. */
  place: string;
  weighed: Weighed;
  /** Of a sheet: how far a reading may be off. Runs have no such limit. */
  toleranceMm: number | null;
  lookQuery: (rubric: Schemas["RubricIn"]) => UseQueryOptions<Look, Error, Look, unknown[]>;
  /** What was seen, as it is shown. */
  seen: (look: Look) => Looked;
  save: (rubric: Schemas["RubricIn"]) => Promise<unknown>;
  onSaved: () => void;
};

export function RubricForm<Look>(props: Props<Look>) {
  const { weighed, lookQuery } = props;
  const [first] = useState(() => asTyped(weighed.rubric));
  // Of this very rubric: over a newer one it would undo what a colleague set.
  const form = useLongForm(`${props.place}-${weighed.number}`, first);
  const { typed, change: setTyped, forget } = form;
  const wrong = noFigures(typed, weighed.parts);
  const rubric = asRubric(typed, weighed.parts);
  const look = useQuery({
    ...lookQuery(useDeferredValue(rubric)),
    enabled: wrong.length === 0,
  });
  const set = useMutation({
    mutationFn: props.save,
    onSuccess: () => {
      forget();
      props.onSaved();
    },
  });
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
        <FormClashes form={form} nameOf={(field) => nameOfField(field, weighed.parts)} />
        <Templates weighed={weighed} onChoose={(chosen) => setTyped(asTyped(chosen))} />
        <Weights parts={weighed.parts} typed={typed} onType={setTyped} />
        <Limits toleranceMm={props.toleranceMm} typed={typed} onType={setTyped} />
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
      <RubricLook looked={look.data === undefined ? undefined : props.seen(look.data)} />
    </div>
  );
}

type TemplatesProps = {
  weighed: Weighed;
  onChoose: (rubric: Schemas["RubricFieldsOut"]) => void;
};

function Templates({ weighed, onChoose }: TemplatesProps) {
  return (
    <div className="card">
      <h2>Start from</h2>
      <div className="ways">
        {weighed.templates.map((template) => (
          <Tooltip key={template.name} title={template.says}>
            <Button onClick={() => onChoose(template.rubric)}>{template.title}</Button>
          </Tooltip>
        ))}
      </div>
    </div>
  );
}
