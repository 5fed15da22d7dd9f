/** One reading sheet: filled in by a student, questioned, handed in once; then its marks. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { Link, useParams } from "react-router";
import { ApiProblem, api, type Field, type Schemas, unwrap } from "../api/client";
import { sheetQuery, workQuery } from "../api/queries";
import { sentence } from "../app/feedback";
import { mm, thou } from "../app/lengths";
import { useMethod } from "../app/methods";
import { usePerson, useUnit } from "../app/session";
import { MarksList } from "../marks/MarksList";
import { OpenForWork } from "../safety/OpenForWork";
import { Answer } from "./Answer";
import { isBegun, isDone, type Saving, useDraft } from "./draft";
import { Questions } from "./Questions";
import { ValveLine } from "./ValveLine";
import "./sheets.css";

type Sheet = Schemas["SheetOut"];

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
      {sheet.result === null ? (
        <Filling key={sheet.id} sheet={sheet} />
      ) : (
        <>
          <Hints hints={sheet.result.hints} />
          {sheet.result.grade === null && (
            <p className="soft">Your grade is shown when your instructor gives the sheets back.</p>
          )}
          <MarksList
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

/** Where to look again; nobody is told what the gap is. */
function Hints({ hints }: { hints: readonly string[] }) {
  if (hints.length === 0) return null;
  return (
    <section className="notice calm" aria-label="Where to look again">
      <h2>Look again</h2>
      <ul>
        {hints.map((hint) => (
          <li key={hint}>{hint}</li>
        ))}
      </ul>
    </section>
  );
}

const SAVING: Record<Saving, string> = {
  saved: "Saved",
  saving: "Saving…",
  "kept here": "Not sent yet; kept on this device",
  refused: "Not saved; see below",
};

function Filling({ sheet }: { sheet: Sheet }) {
  const person = usePerson();
  const unit = useUnit();
  const method = useMethod(sheet.method);
  const queries = useQueryClient();
  const numbers = sheet.valves.map((valve) => valve.number);
  const draft = useDraft(sheet.id, person.id, numbers, sheet.draft, unit);
  const [questions, setQuestions] = useState<readonly Field[]>([]);
  const form = useRef<HTMLDivElement>(null);
  const done = draft.lines.filter(isDone).length;
  const work = {
    engineId: sheet.engine_id,
    version: sheet.engine_version,
    standId: sheet.stand_id,
  };

  const handIn = useMutation({
    mutationFn: (confirmed: boolean) =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/hand-in", {
          params: { path: { sheet_id: sheet.id } },
          body: { lines: draft.lines.filter(isBegun), request_key: draft.requestKey, confirmed },
        }),
      ),
    onSuccess: (result) => {
      draft.done();
      setQuestions([]);
      queries.setQueryData(sheetQuery(sheet.id).queryKey, { ...sheet, result });
      queries.invalidateQueries(workQuery);
      window.scrollTo({ top: 0 });
    },
    onError: (error) => {
      if (!(error instanceof ApiProblem)) return;
      if (error.confirm) setQuestions(error.fields);
      else {
        setQuestions([]);
        // A sheet that is handed in already (on another device) shows its marks.
        if (error.status === 409) queries.invalidateQueries(sheetQuery(sheet.id));
      }
    },
  });
  const problem = handIn.error instanceof ApiProblem && !handIn.error.confirm ? handIn.error : null;
  useEffect(() => {
    if (problem) focusFault(form.current);
  }, [problem]);

  return (
    <>
      <p className="sheet-task">
        Measure each valve on its heel, and write the gap, the stop and your verdict. The stops are
        those of <b>{method.title.toLowerCase()}</b>; readings count within{" "}
        <span className="figures">
          ±{mm(Number(sheet.tolerance_mm))} (±{thou(Number(sheet.tolerance_mm))})
        </span>
        .
        {Number(sheet.gauge_mm) > 0 && (
          <>
            {" "}
            Your gauge tells a gap to <span className="figures">±{mm(Number(sheet.gauge_mm))}</span>
            : nearer than that to a limit, <b>can't tell</b> is a right verdict.
          </>
        )}
      </p>
      <OpenForWork {...work} part="opening" />
      <div ref={form} className="lines">
        {sheet.valves.map((valve, index) => {
          const line = draft.lines[index];
          return line === undefined ? null : (
            <ValveLine
              key={valve.number}
              valve={valve}
              line={line}
              stops={sheet.stops}
              columns={sheet.columns}
              doubt={Number(sheet.gauge_mm) > 0}
              unit={unit}
              faults={faultsOf(problem, valve.number)}
              onChange={(part) => draft.change(valve.number, part)}
            />
          );
        })}
      </div>
      <OpenForWork {...work} part="closing" />
      <footer className="hand-in">
        {problem && (
          <p className="notice" role="alert">
            {sentence(problem)}
          </p>
        )}
        <div>
          <p>
            <b>
              {done} of {sheet.valves.length}
            </b>{" "}
            valves complete
            <span className="soft" role="status">
              {SAVING[draft.saving]}
            </span>
          </p>
          <button
            type="button"
            className="button main"
            disabled={handIn.isPending}
            onClick={() => handIn.mutate(false)}
          >
            {handIn.isPending ? "Handing in…" : "Hand in"}
          </button>
        </div>
      </footer>
      <Questions
        questions={questions}
        pending={handIn.isPending}
        onBack={() => {
          const first = questions[0];
          // The dialog is shut before a field gets the focus: open, it would keep it.
          flushSync(() => setQuestions([]));
          if (first) focusValve(form.current, first.path);
        }}
        onConfirm={() => handIn.mutate(true)}
      />
    </>
  );
}

/** The faults of one valve by field name: `valve 3.reading` gives `reading`. */
function faultsOf(problem: ApiProblem | null, valve: number): Record<string, string> {
  const faults: Record<string, string> = {};
  for (const field of problem?.fields ?? []) {
    const match = /^valve (\d+)\.(\w+)$/.exec(field.path);
    if (match && Number(match[1]) === valve && match[2]) faults[match[2]] = field.problem;
  }
  return faults;
}

function focusFault(form: HTMLElement | null) {
  form?.querySelector<HTMLElement>('[aria-invalid="true"]')?.focus();
}

function focusValve(form: HTMLElement | null, path: string) {
  const number = /^valve (\d+)/.exec(path)?.[1];
  if (number === undefined)
    form?.parentElement?.querySelector<HTMLElement>(".safety input")?.focus();
  form?.querySelector<HTMLElement>(`#reading-${number}`)?.focus();
}
