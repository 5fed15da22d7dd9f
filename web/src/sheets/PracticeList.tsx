/** What a student may practise on, in every class: begin, go on, or look back. */
import { useMutation, useSuspenseQueries, useSuspenseQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { classesQuery, practiceQuery } from "../api/queries";
import { Confirm } from "../app/Dialog";
import { sentence } from "../app/feedback";
import { LEVELS, STARTS } from "../app/practice-words";

type Practice = Schemas["PracticeOut"];

export function PracticeList() {
  const { data: classes } = useSuspenseQuery(classesQuery);
  const found = useSuspenseQueries({
    queries: classes.map((one) => ({ ...practiceQuery(one.id), staleTime: 0 })),
  });
  const practice = found.flatMap((one) => one.data);
  const go = useNavigate();
  // A lesson leads here: its practice engine is brought into sight, and begun by the student's own press.
  const [search] = useSearchParams();
  const ledTo = Number(search.get("practice"));
  const [asked, setAsked] = useState<Practice | null>(null);
  const open = useMutation({
    mutationFn: (id: number) =>
      unwrap(
        api.POST("/api/practice/{practice_id}/runs", { params: { path: { practice_id: id } } }),
      ),
    onSuccess: (run) => go(`/practice/${run.id}`),
  });
  const mine = classes.filter((one) => one.role === "student");
  if (practice.length === 0 && mine.length === 0) return null;
  return (
    <section>
      <h2>Practice runs</h2>
      {open.isError && (
        <p className="notice" role="alert">
          {sentence(open.error)}
        </p>
      )}
      <ul className="work-list">
        {mine.map((one) => (
          <li key={`feel ${one.id}`} className="card work-row">
            <span>
              <b>Blind feel</b>
              <span className="soft">
                name what you feel, and see it{mine.length > 1 && `, ${one.name}`}
              </span>
            </span>
            <Link className="button" to={`/feel/${one.id}`}>
              Feel a gap
            </Link>
          </li>
        ))}
        {practice.map((one) => (
          <li
            key={one.id}
            ref={one.id === ledTo ? bringIntoSight : null}
            className={one.id === ledTo ? "card work-row led-to" : "card work-row"}
          >
            <span>
              <b>{one.title}</b>
              <span className="soft">
                {one.engine_name}, {LEVELS[one.level]}
                {one.minutes && `, ${one.minutes} minutes`}
              </span>
            </span>
            <span className="ways">
              {one.own_runs
                .filter((run) => run.ended_at)
                .slice(0, 1)
                .map((run) => (
                  <Debrief key={run.id} run={run} open={one.debriefs_open} />
                ))}
              <button
                type="button"
                className="button main"
                disabled={open.isPending || isThrough(one)}
                onClick={() => (asksFirst(one) ? setAsked(one) : open.mutate(one.id))}
              >
                {wayIn(one)}
              </button>
            </span>
          </li>
        ))}
      </ul>
      <Confirm
        open={asked !== null}
        title={`Begin “${asked?.title ?? ""}”?`}
        does="Begin the test"
        instead="Not yet"
        onClose={() => setAsked(null)}
        onConfirm={() => {
          if (asked) open.mutate(asked.id);
          setAsked(null);
        }}
      >
        <p>
          It is a test
          {asked?.minutes ? `: its ${asked.minutes} minutes run from when you begin` : ""}.
          {asked?.attempts === 1 && " It is begun once."} Nothing is told before its end.
        </p>
      </Confirm>
    </section>
  );
}

function bringIntoSight(row: HTMLElement | null) {
  row?.scrollIntoView({ block: "center" });
}

function Debrief({ run, open }: { run: Practice["own_runs"][number]; open: boolean }) {
  if (!open) return <span className="soft">done; its debrief is opened later</span>;
  return (
    <Link className="button" to={`/debrief/${run.id}`}>
      {STARTS[run.outcome]}
    </Link>
  );
}

const isGoingOn = (practice: Practice) => practice.own_runs.some((run) => !run.ended_at);

/** A test is begun on purpose: its time runs from then on. */
const asksFirst = (practice: Practice) => practice.level === "test" && !isGoingOn(practice);

function isThrough(practice: Practice): boolean {
  const { attempts, own_runs: runs } = practice;
  return attempts !== null && !isGoingOn(practice) && runs.length >= attempts;
}

function wayIn(practice: Practice): string {
  if (isGoingOn(practice)) return "Go on";
  return practice.own_runs.length > 0 ? "Once more" : "Begin";
}
