/** Before a question: what this class mistakes most, what it was asked, and the next one. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { askedQuery } from "../api/now";
import { enginesQuery } from "../api/queries";
import { Empty, sentence } from "../app/feedback";
import { moment } from "../app/school";
import { counted } from "../app/words";
import { AskFields, type Wished } from "./AskFields";
import type { useAsk } from "./useWall";

type Props = { found: Schemas["ClassOut"]; ask: ReturnType<typeof useAsk> };

export function Prepare({ found, ask }: Props) {
  const { data: asked } = useSuspenseQuery(askedQuery(found.id));
  const [wished, setWished] = useState<Wished>({ kind: "which-valves", seconds: null });
  return (
    <>
      <div className="place-head">
        <h1>Ask {found.name}</h1>
        <Link className="button" to={`/classes/${found.id}/today`}>
          Today
        </Link>
      </div>
      <AskForm wished={wished} onWish={setWished} ask={ask} />
      {asked.mistakes.length > 0 && (
        <section>
          <h2>What this class mistakes most</h2>
          <ul className="room-mistakes">
            {asked.mistakes.map((one) => (
              <li key={one.mistake} className="card">
                <p>
                  <b>{one.label}</b>, {counted(one.answers, "answer")} of{" "}
                  {counted(one.students, "student")}. {one.says}
                </p>
                <p>{one.cure}</p>
                <button
                  type="button"
                  className="button"
                  onClick={() => setWished({ ...wished, kind: one.asked })}
                >
                  Take the question that asks it
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
      <Heard questions={asked.questions} />
    </>
  );
}

type FormProps = {
  wished: Wished;
  onWish: (wished: Wished) => void;
  ask: ReturnType<typeof useAsk>;
};

function AskForm({ wished, onWish, ask }: FormProps) {
  const { data: engines } = useSuspenseQuery(enginesQuery);
  const offered = engines.filter((engine) => !engine.away);
  const [engineId, setEngineId] = useState(offered[0]?.id);
  function put(event: FormEvent) {
    event.preventDefault();
    if (engineId === undefined) return;
    ask.mutate({
      engine_id: engineId,
      version: null,
      ...wished,
      crank_deg: null,
    });
  }
  return (
    <form className="card ask-form" onSubmit={put}>
      <label className="ask-kind">
        Engine
        <select
          className="field"
          value={engineId}
          onChange={(event) => setEngineId(Number(event.target.value))}
        >
          {offered.map((engine) => (
            <option key={engine.id} value={engine.id}>
              {engine.name}
            </option>
          ))}
        </select>
      </label>
      <AskFields wished={wished} onWish={onWish} />
      <div className="ways">
        <button type="submit" className="button main" disabled={ask.isPending}>
          Ask it
        </button>
        {engineId !== undefined && (
          <Link className="button" to={`/bench/${engineId}?cover=1`}>
            Stop the Bench at a place of my own
          </Link>
        )}
      </div>
      {ask.error !== null && (
        <p className="notice" role="alert">
          {sentence(ask.error)}
        </p>
      )}
    </form>
  );
}

function Heard({ questions }: { questions: readonly Schemas["HeardOut"][] }) {
  if (questions.length === 0) {
    return (
      <Empty title="Nothing asked yet">
        Every student who is signed in gets the question on their own device, wherever they are.
      </Empty>
    );
  }
  return (
    <section>
      <h2>Asked before</h2>
      <ul className="heard">
        {questions.map((one) => (
          <li key={one.id}>
            <b>{one.asks}</b>{" "}
            <span className="soft">
              {one.engine_name}, {moment(one.asked_at)}
            </span>
            <span className="figures">
              {one.right} of {one.answered} right
            </span>
            {one.sure_and_wrong > 0 && <span>{one.sure_and_wrong} sure and wrong</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}
