/** The whole job as an instructor shows it: what to do next, why, and a hand that does it. */
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { walkQuery } from "../api/queries";
import { Words } from "../app/Words";
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
      <div className="walk-says">
        <p>
          <Words text={data.says} />
        </p>
      </div>
      <p>
        <Words text={data.why} />
      </p>
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
