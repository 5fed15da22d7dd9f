/** From the Bench to a class: the place, bare; which class; what is asked of it, and for how long. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { type FormEvent, useEffect, useMemo, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { classesQuery, cycleQuery } from "../api/queries";
import { Empty, sentence } from "../app/feedback";
import { CrankWheel } from "../bench/CrankWheel";
import { Crank } from "../bench/crank";
import { Valves } from "../bench/Valves";
import { AskFields, type Wished } from "./AskFields";
import { useAsk } from "./useWall";
import "./wall.css";

export default function AskHerePage() {
  const { engineId = "" } = useParams();
  const [search] = useSearchParams();
  const at = Number(search.get("at")) || 0;
  const version = Number(search.get("version")) || null;
  const { data: table } = useSuspenseQuery(cycleQuery(Number(engineId), version));
  const crank = useMemo(() => new Crank(at), [at]);
  useEffect(() => {
    document.title = "Ask the class · Edrix";
  }, []);
  return (
    <div className="asking">
      <div className="place-head">
        <h1>Ask the class</h1>
        <Link
          className="button"
          to={`/bench/${engineId}?at=${at}${version ? `&version=${version}` : ""}&cover=1`}
        >
          Back to the Bench
        </Link>
      </div>
      <div className="wall-drawing">
        <CrankWheel table={table} crank={crank} strokeHidden marksAlike />
        <Valves table={table} crank={crank} unit="mm" bare board />
      </div>
      <AskForm engineId={Number(engineId)} version={version} at={at} />
    </div>
  );
}

type FormProps = { engineId: number; version: number | null; at: number };

function AskForm({ engineId, version, at }: FormProps) {
  const { data: classes } = useSuspenseQuery(classesQuery);
  const taught = classes.filter((one) => one.role === "instructor" && !one.away);
  const [classId, setClassId] = useState(taught[0]?.id);
  const [wished, setWished] = useState<Wished>({ kind: "which-valves", seconds: null });
  const go = useNavigate();
  const ask = useAsk(classId ?? 0, () => go(`/ask/${classId}?room=shop`));
  function put(event: FormEvent) {
    event.preventDefault();
    ask.mutate({
      engine_id: engineId,
      version,
      ...wished,
      crank_deg: at,
    });
  }
  if (classId === undefined) {
    return (
      <Empty title="No class to ask">
        Make a class and add its students; then they get the question on their own devices.
      </Empty>
    );
  }
  return (
    <form className="card ask-form" onSubmit={put}>
      <label className="ask-kind">
        Class
        <select
          className="field"
          value={classId}
          onChange={(event) => setClassId(Number(event.target.value))}
        >
          {taught.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
      </label>
      <AskFields wished={wished} onWish={setWished} />
      <button type="submit" className="button main" disabled={ask.isPending}>
        Ask it
      </button>
      {ask.error !== null && (
        <p className="notice" role="alert">
          {sentence(ask.error)}
        </p>
      )}
    </form>
  );
}
