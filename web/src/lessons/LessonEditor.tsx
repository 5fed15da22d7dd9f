/** A lesson written: its steps in order, each with what its kind needs; kept on the device until saved. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Alert, Button } from "antd";
import { useNavigate, useParams } from "react-router";
import { ApiProblem, api, type Field, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { lessonQuery } from "../api/lessons";
import { sentence, Waiting } from "../app/feedback";
import { useKept } from "../app/useKept";
import { Desk } from "../kit/Desk";
import {
  beginsAt,
  type Document,
  emptyLesson,
  KINDS,
  type Lesson,
  moved,
  newStep,
  type Step,
} from "./lesson";
import { StepForm } from "./StepForm";
import "./lessons.css";

export default function LessonEditor() {
  const { lessonId = "new" } = useParams();
  const isNew = lessonId === "new";
  const found = useQuery({ ...lessonQuery(Number(lessonId), null), enabled: !isNew });
  if (!isNew && found.data === undefined) {
    return found.isError ? <p className="notice">{sentence(found.error)}</p> : <Waiting />;
  }
  return <Editor key={lessonId} lesson={isNew ? null : (found.data ?? null)} />;
}

function Editor({ lesson }: { lesson: Lesson | null }) {
  const first = lesson === null ? NEW : (lesson.document as Document);
  const place = `lesson.${lesson === null ? "new" : `${lesson.id}.${lesson.revision}`}`;
  const [written, setWritten, forget] = useKept<Document>(place, first);
  const save = useSave(lesson, written, forget);
  const fields = save.error instanceof ApiProblem ? save.error.fields : [];
  const begins = beginsAt(written.steps);
  const setSteps = (steps: Step[]) => setWritten({ ...written, steps });
  const isChanged = JSON.stringify(written) !== JSON.stringify(first);
  return (
    <Desk
      title={lesson === null ? "A new lesson" : written.title || lesson.title}
      from={{ to: "/lessons", title: "Lessons" }}
      ways={
        <>
          {isChanged && (
            <Button size="large" onClick={forget}>
              Throw my changes away
            </Button>
          )}
          <Button
            type="primary"
            size="large"
            loading={save.isPending}
            onClick={() => save.mutate()}
          >
            Save
          </Button>
        </>
      }
    >
      {save.error !== null && <Alert type="error" showIcon title={sentence(save.error)} />}
      {isChanged && !save.isPending && <p className="soft">Not saved yet; kept on this device.</p>}
      <div className="lesson-head">
        <label>
          Title
          <input
            className="field"
            maxLength={120}
            value={written.title}
            aria-invalid={has(fields, "$.title") || undefined}
            onChange={(event) => setWritten({ ...written, title: event.target.value })}
          />
        </label>
        <label>
          What it is about
          <input
            className="field"
            maxLength={400}
            value={written.about ?? ""}
            onChange={(event) => setWritten(withAbout(written, event.target.value))}
          />
        </label>
      </div>
      <ol className="lesson-steps">
        {written.steps.map((step, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a step is known by its place alone
          <li key={place} className="card">
            <StepForm
              step={step}
              place={place}
              begins={begins[place] ?? 0}
              fields={fields}
              isLast={place === written.steps.length - 1}
              onChange={(next) =>
                setSteps(written.steps.map((one, at) => (at === place ? next : one)))
              }
              onMove={(by) => setSteps(moved(written.steps, place, by))}
              onRemove={() => setSteps(written.steps.filter((_, at) => at !== place))}
            />
          </li>
        ))}
      </ol>
      <p className="ways">
        <span>Add a step:</span>
        {KINDS.map((kind) => (
          <Button
            key={kind.value}
            size="large"
            title={kind.about}
            onClick={() => setSteps([...written.steps, newStep(kind.value, engineOf(written))])}
          >
            {kind.label}
          </Button>
        ))}
      </p>
      <p className="soft">{begins.at(-1)} minutes in all.</p>
    </Desk>
  );
}

const NEW = emptyLesson();
const has = (fields: readonly Field[], path: string) => fields.some((one) => one.path === path);

function withAbout(written: Document, about: string): Document {
  const { about: _before, ...rest } = written;
  return about === "" ? rest : { ...rest, about };
}

/** The engine of the last step that has one: mostly it is the next one's, too. */
function engineOf(written: Document): string {
  const engines = written.steps.map((step) => step.engine).filter((one) => typeof one === "string");
  return engines.at(-1) ?? "";
}

function useSave(lesson: Lesson | null, written: Document, forget: () => void) {
  const queries = useQueryClient();
  const go = useNavigate();
  return useMutation({
    mutationFn: () =>
      lesson === null
        ? unwrap(api.POST("/api/lessons", { body: { document: written } }))
        : unwrap(
            api.PUT("/api/lessons/{lesson_id}", {
              params: { path: { lesson_id: lesson.id } },
              body: { document: written, revision: lesson.revision },
            }),
          ),
    onSuccess: (made) => {
      forget();
      queries.invalidateQueries({ queryKey: keys.lessons });
      queries.setQueryData(lessonQuery(made.id, null).queryKey, made);
      go("/lessons");
    },
  });
}
