/** The whole job as an instructor shows it: what to do next, why, and a hand that does it. */
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { walkQuery } from "../api/queries";
import { Terms } from "../app/Terms";
import type { Practice } from "./usePractice";

export function Walk({ practice }: { practice: Practice }) {
  const { run, view, act, setValve, showValve } = practice;
  const { data } = useQuery(walkQuery(run.id, view.step));
  const about = data?.valve ?? null;
  useEffect(() => showValve(about), [about, showValve]);
  if (!data?.says) return null;
  const { action, valve } = data;
  return (
    <section className="card walk" aria-label="Next step">
      <Terms className="walk-says" text={data.says} terms={data.terms} />
      <Terms text={data.why} terms={data.terms} />
      {action && (
        <button
          type="button"
          className="button"
          onClick={() => {
            if (valve !== null) setValve(valve);
            act(action);
          }}
        >
          Show me
        </button>
      )}
    </section>
  );
}
