/** A drill: ten questions about one engine, alone or read out to a class. */

import { useMutation, useQuery, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { classesQuery, cycleQuery, drillQuery, ownDrillsQuery } from "../api/queries";
import { Failure, sentence, Waiting } from "../app/feedback";
import { usePerson } from "../app/session";
import { useShopRoom } from "../app/useShopRoom";
import { CrankWheel } from "../bench/CrankWheel";
import { Crank } from "../bench/crank";
import { ValveRow } from "../bench/ValveRow";
import { MyDrills } from "./MyDrills";
import { QuestionCard } from "./QuestionCard";
import { Tally } from "./Tally";
import "./drill.css";

type Drill = Schemas["DrillOut"];
type Begun = { held: "alone" | "class"; class_id: number | null };

export default function DrillPage() {
  const { engineId = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const id = Number(engineId);
  const version = Number(search.get("version")) || null;
  const drillId = Number(search.get("drill")) || null;
  const person = usePerson();
  const queries = useQueryClient();
  const { data: table } = useSuspenseQuery(cycleQuery(id, version));
  const drill = useQuery({ ...drillQuery(drillId ?? 0), enabled: drillId !== null });
  const start = useMutation({
    mutationFn: ({ held, class_id }: Begun) =>
      unwrap(api.POST("/api/drills", { body: { engine_id: id, version, held, class_id } })),
    onSuccess: (made) => {
      queries.setQueryData(drillQuery(made.id).queryKey, made);
      const changed = new URLSearchParams(search);
      changed.set("drill", String(made.id));
      if (made.held === "class") changed.set("room", "shop");
      setSearch(changed, { replace: true });
    },
  });
  useEffect(() => {
    document.title = `${table.engine.name} · Drill · Edrix`;
  }, [table]);

  return (
    <article className="drill">
      <div className="place-head">
        <div>
          <h1>Drill</h1>
          <p>
            {table.engine.name}, firing order{" "}
            <span className="figures">{table.engine.firing_order.join("-")}</span>
          </p>
        </div>
        <Link className="button" to={`/bench/${id}${version ? `?version=${version}` : ""}`}>
          Bench
        </Link>
      </div>
      {drillId === null && (
        <StartHere
          mayTeach={person.may_teach}
          pending={start.isPending}
          error={start.error}
          onStart={(begun) => start.mutate(begun)}
        />
      )}
      {drillId !== null && drill.isPending && <Waiting />}
      {drill.isError && <Failure error={drill.error} retry={() => drill.refetch()} />}
      {drill.data && (
        <Running
          key={drill.data.id}
          drill={drill.data}
          onAgain={() =>
            start.mutate({
              held: drill.data.held === "class" ? "class" : "alone",
              class_id: drill.data.class_id,
            })
          }
        />
      )}
    </article>
  );
}

type StartProps = {
  mayTeach: boolean;
  pending: boolean;
  error: unknown;
  onStart: (begun: Begun) => void;
};

function StartHere({ mayTeach, pending, error, onStart }: StartProps) {
  const { data: known } = useQuery(classesQuery);
  const classes = (known ?? []).filter((one) => !one.away);
  const [chosen, setChosen] = useState<number | null>(null);
  const class_id = chosen ?? classes[0]?.id ?? null;
  const waits = pending || known === undefined;
  return (
    <section className="card start-drill">
      <p>
        Ten questions about this engine: which valves now, which stroke, who fires next, whose
        companion rocks, which valve makes the sum. Edrix computes each answer, and says why.
      </p>
      {classes.length > 1 && (
        <label className="drill-class">
          For{" "}
          <select
            className="field"
            value={class_id ?? ""}
            onChange={(event) => setChosen(Number(event.target.value))}
          >
            {classes.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        </label>
      )}
      <div className="drill-ways">
        <button
          type="button"
          className="button main"
          disabled={waits}
          onClick={() => onStart({ held: "alone", class_id: mayTeach ? null : class_id })}
        >
          Ten questions for me
        </button>
        {mayTeach && (
          <button
            type="button"
            className="button"
            disabled={waits}
            onClick={() => onStart({ held: "class", class_id })}
          >
            Ten questions before the class
          </button>
        )}
      </div>
      {error !== null && (
        <p className="notice" role="alert">
          {sentence(error)}
        </p>
      )}
      <MyDrills />
    </section>
  );
}

function Running({ drill, onAgain }: { drill: Drill; onAgain: () => void }) {
  const [search] = useSearchParams();
  const [asked, go] = useState(() => {
    // Back from the Bench, to the question that was looked up there.
    const from = Number(search.get("question"));
    if (from >= 1 && from <= drill.questions.length) return from;
    const first = drill.questions.findIndex((question) => !question.answered);
    return first < 0 ? drill.questions.length + 1 : first + 1;
  });
  const question = drill.questions[asked - 1];
  return (
    <>
      <Tally drill={drill} now={asked} onGo={go} />
      {question ? (
        <Asked key={question.number} drill={drill} question={question} onGo={go} />
      ) : (
        <Finished drill={drill} onAgain={onAgain} />
      )}
    </>
  );
}

type AskedProps = {
  drill: Drill;
  question: Drill["questions"][number];
  onGo: (number: number) => void;
};

function Asked({ drill, question, onGo }: AskedProps) {
  const queries = useQueryClient();
  const { data: table } = useSuspenseQuery(cycleQuery(drill.engine_id, drill.engine_version));
  const crank = useMemo(() => new Crank(question.crank_deg), [question]);
  const { board, toggleBoard } = useShopRoom();
  const place = { params: { path: { drill_id: drill.id, number: question.number } } };
  const act = useMutation({
    mutationFn: (made: { given: string[] } | { right: boolean } | "reveal") => {
      if (made === "reveal") {
        return unwrap(api.POST("/api/drills/{drill_id}/reveal/{number}", place));
      }
      if ("right" in made) {
        return unwrap(api.PUT("/api/drills/{drill_id}/score/{number}", { ...place, body: made }));
      }
      return unwrap(api.POST("/api/drills/{drill_id}/answers/{number}", { ...place, body: made }));
    },
    onSuccess: (after) => {
      queries.setQueryData(drillQuery(drill.id).queryKey, after);
      queries.invalidateQueries({ queryKey: ownDrillsQuery.queryKey, exact: true });
    },
  });
  return (
    <div className="drill-body">
      <QuestionCard
        question={question}
        roleOf={(number) => table.engine.valves.find((v) => v.number === number)?.role}
        held={drill.held}
        pending={act.isPending}
        error={act.error}
        onAnswer={(given) => act.mutate({ given })}
        onReveal={() => act.mutate("reveal")}
        onScore={(right) => act.mutate({ right })}
        bench={`/bench/${drill.engine_id}?version=${drill.engine_version}&at=${question.wrong?.crank_deg ?? question.shown_deg ?? question.crank_deg}&back=${back(drill, question.number)}`}
        onNext={() => onGo(question.number + 1)}
        onBoard={toggleBoard}
        board={board}
      />
      <CrankWheel table={table} crank={crank} strokeHidden={!question.answered} />
      {question.answered && <ValveRow table={table} crank={crank} unit="mm" />}
    </div>
  );
}

/** The way back to a question, as the Bench's address holds it. */
function back(drill: Drill, number: number): string {
  return encodeURIComponent(`/drill/${drill.engine_id}?drill=${drill.id}&question=${number}`);
}

function Finished({ drill, onAgain }: { drill: Drill; onAgain: () => void }) {
  const right = drill.questions.filter((question) => question.right).length;
  const wrong = drill.questions.filter((question) => question.right === false);
  return (
    <section className="card finished" role="status">
      <p className="score">
        {right} of {drill.questions.length}
      </p>
      {wrong.length > 0 && (
        <>
          <h2>Look at these again</h2>
          <ul>
            {wrong.map((question) => (
              <li key={question.number}>
                <b>{question.asks}</b> {question.because}
              </li>
            ))}
          </ul>
        </>
      )}
      <button type="button" className="button main" onClick={onAgain}>
        Ten more
      </button>
    </section>
  );
}
