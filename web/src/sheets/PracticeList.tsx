/** What a student may practise on, in every class: begin, go on, or look back. */
import { useMutation, useSuspenseQueries, useSuspenseQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { classesQuery, practiceQuery } from "../api/queries";
import { sentence } from "../app/feedback";
import { STARTS } from "../app/practice-words";

type Practice = Schemas["PracticeOut"];

export function PracticeList() {
  const { data: classes } = useSuspenseQuery(classesQuery);
  const found = useSuspenseQueries({
    queries: classes.map((one) => ({ ...practiceQuery(one.id), staleTime: 0 })),
  });
  const practice = found.flatMap((one) => one.data);
  const go = useNavigate();
  const open = useMutation({
    mutationFn: (id: number) =>
      unwrap(
        api.POST("/api/practice/{practice_id}/runs", { params: { path: { practice_id: id } } }),
      ),
    onSuccess: (run) => go(`/practice/${run.id}`),
  });
  if (practice.length === 0) return null;
  return (
    <section>
      <h2>Practice runs</h2>
      {open.isError && (
        <p className="notice" role="alert">
          {sentence(open.error)}
        </p>
      )}
      <ul className="work-list">
        {practice.map((one) => (
          <li key={one.id} className="card work-row">
            <span>
              <b>{one.title}</b>
              <span className="soft">
                {one.engine_name}
                {one.minutes && `, ${one.minutes} minutes`}
              </span>
            </span>
            <span className="ways">
              {one.own_runs
                .filter((run) => run.ended_at)
                .slice(0, 1)
                .map((run) => (
                  <Link key={run.id} className="button" to={`/debrief/${run.id}`}>
                    {STARTS[run.outcome]}
                  </Link>
                ))}
              <button
                type="button"
                className="button main"
                disabled={open.isPending}
                onClick={() => open.mutate(one.id)}
              >
                {wayIn(one)}
              </button>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function wayIn(practice: Practice): string {
  if (practice.own_runs.some((run) => !run.ended_at)) return "Go on";
  return practice.own_runs.length > 0 ? "Once more" : "Begin";
}
