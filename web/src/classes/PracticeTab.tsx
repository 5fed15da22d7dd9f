/** Practice engines of a class: the list, how each run went, and setting one. */

import { useMutation, useQuery, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Button, Drawer, Empty } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { practiceQuery, practiceRunsQuery } from "../api/queries";
import { Waiting } from "../app/feedback";
import { LEVELS, STARTS } from "../app/practice-words";
import { counted } from "../app/words";
import { Ask } from "../kit/Ask";
import { DataTable } from "../kit/DataTable";
import { Life } from "../kit/Life";
import { Problem } from "../kit/Problem";
import { Named } from "../kit/Rename";
import { percent } from "../marks/GradeCard";
import { SetPractice } from "./SetPractice";

type Practice = Schemas["PracticeOut"];
type Run = Schemas["RunRowOut"];
const isAway = (practice: Practice) => practice.away;

function changePractice(practiceId: number, body: Schemas["PracticeChanges"]) {
  const place = { params: { path: { practice_id: practiceId } } };
  return unwrap(api.PATCH("/api/practice/{practice_id}", { ...place, body }));
}

export function PracticeTab({ classId }: { classId: number }) {
  const { data: practice } = useSuspenseQuery(practiceQuery(classId));
  const [opened, setOpened] = useState<Practice | null>(null);
  const [setting, setSetting] = useState(false);
  const [giving, setGiving] = useState<Practice | null>(null);
  const queries = useQueryClient();
  const debriefs = useMutation({
    mutationFn: (p: Practice) => changePractice(p.id, { debriefs: !p.debriefs_open }),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.ofClass(classId, "practice") }),
  });
  return (
    <div className="tab">
      <Problem error={debriefs.error} />
      <div className="ways">
        <Button type="primary" onClick={() => setSetting(true)}>
          Set a practice engine
        </Button>
        <Link className="button" to="/run-file">
          Open a run file
        </Link>
      </div>
      <DataTable
        label="Practice engines"
        rows={practice}
        keyOf={(one) => one.id}
        away={isAway}
        empty={
          <Empty description="No practice engine yet. Choose an engine, plant what students are to find, and set it." />
        }
        columns={[
          {
            title: "Practice engine",
            show: (p: Practice) => (
              <Named name={p.title} maxLength={80} save={(name) => changePractice(p.id, { name })}>
                {p.title}
              </Named>
            ),
            sort: (p) => p.title,
            find: (p) => p.title,
          },
          {
            title: "Engine",
            show: (p) => <Link to={`/bench/${p.engine_id}`}>{p.engine_name}</Link>,
            sort: (p) => p.engine_name,
            filter: (p) => p.engine_name,
          },
          {
            title: "Coaching",
            show: (p) => LEVELS[p.level] ?? p.level,
            filter: (p) => LEVELS[p.level] ?? p.level,
          },
          {
            title: "Debriefs",
            show: (p) =>
              p.level === "test" && (
                <Button onClick={() => (p.debriefs_open ? debriefs.mutate(p) : setGiving(p))}>
                  {p.debriefs_open ? "Open: hold them" : "Held: open them"}
                </Button>
              ),
          },
          { title: "Faults", right: true, show: (p) => p.fault_count, sort: (p) => p.fault_count },
          {
            title: "Runs",
            right: true,
            sort: (p) => p.run_count,
            show: (p) => (
              <Button onClick={() => setOpened(p)}>{counted(p.run_count ?? 0, "run")}</Button>
            ),
          },
          {
            title: "More",
            right: true,
            show: (p) => (
              <Life
                name={p.title}
                away={p.away}
                about="Open runs can be finished; nobody begins another."
                putAway={(away) => changePractice(p.id, { away })}
                remove={() =>
                  unwrap(
                    api.DELETE("/api/practice/{practice_id}", {
                      params: { path: { practice_id: p.id } },
                    }),
                  )
                }
              />
            ),
          },
        ]}
      />
      <Drawer
        open={opened !== null}
        title={`Runs on ${opened?.title ?? ""}`}
        size={820}
        extra={
          <Link className="button" to={`/practice/${opened?.id}/weights`}>
            What runs are worth
          </Link>
        }
        onClose={() => setOpened(null)}
        destroyOnHidden
      >
        {opened && <Runs practice={opened} />}
      </Drawer>
      <Ask
        open={giving !== null}
        title={`Open the debriefs of “${giving?.title ?? ""}”?`}
        does="Open them"
        instead="Hold them"
        onClose={() => setGiving(null)}
        onConfirm={() => {
          if (giving) debriefs.mutate(giving);
          setGiving(null);
        }}
      >
        Everybody who has done the test reads what was hidden in it, and can tell it to those who
        have not.
      </Ask>
      <SetPractice classId={classId} open={setting} onClose={() => setSetting(false)} />
    </div>
  );
}

function Runs({ practice }: { practice: Practice }) {
  const runs = useQuery(practiceRunsQuery(practice.id));
  if (runs.isPending) return <Waiting />;
  return (
    <DataTable
      label={`Runs on ${practice.title}`}
      rows={runs.data ?? []}
      keyOf={(run) => run.id}
      empty={<Empty description="Nobody has begun. Runs appear here." />}
      columns={[
        {
          title: "Student",
          show: (r: Run) => r.student,
          sort: (r) => r.student,
          find: (r) => r.student,
        },
        { title: "Run", right: true, show: (r) => r.attempt, sort: (r) => r.attempt },
        { title: "Steps", right: true, show: (r) => r.step, sort: (r) => r.step },
        { title: "First start", show: howItWent, filter: howItWent },
        { title: "Grade", right: true, show: gradeOf, sort: (r) => r.percent },
        {
          title: "Debrief",
          show: (r) => (
            <Link className="button" to={`/debrief/${r.id}`}>
              Debrief
            </Link>
          ),
        },
      ]}
    />
  );
}

function gradeOf(run: Run): string {
  if (run.percent === null) return "";
  return `${percent(run.percent)} ${run.passed ? "✓" : "not passed"}`;
}

function howItWent(run: Run): string {
  return run.ended_at ? (STARTS[run.outcome] ?? run.outcome) : "at work";
}
