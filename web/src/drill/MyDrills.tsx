/** One's own drills: gone on with, named, put out of the way, or deleted while nothing is answered. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { ownDrillsQuery } from "../api/queries";
import { sentence } from "../app/feedback";
import { day } from "../app/school";
import { counted } from "../app/words";

type Score = Schemas["ScoreOut"];
const AT_FIRST = 8;

export function MyDrills() {
  const { data: drills = [] } = useQuery(ownDrillsQuery);
  const [all, setAll] = useState(false);
  const atHand = drills.filter((made) => !made.away);
  const shown = all ? drills : atHand.slice(0, AT_FIRST);
  if (drills.length === 0) return null;
  return (
    <>
      <h2>Your drills</h2>
      <ul className="my-drills">
        {shown.map((made) => (
          <MyDrill key={made.id} made={made} />
        ))}
      </ul>
      {drills.length > shown.length || all ? (
        <button type="button" className="button" onClick={() => setAll(!all)}>
          {all ? "Only the latest" : `All ${drills.length}, with those put away`}
        </button>
      ) : null}
    </>
  );
}

function MyDrill({ made }: { made: Score }) {
  const [naming, setNaming] = useState(false);
  const { change, remove, error } = useChanges(made.id);
  const name = made.title || made.engine_name;
  return (
    <li className={made.away ? "away" : undefined}>
      {naming ? (
        <Naming
          made={made}
          onDone={(title) => {
            if (title !== null) change({ name: title });
            setNaming(false);
          }}
        />
      ) : (
        <Link to={`/drill/${made.engine_id}?drill=${made.id}`}>{name}</Link>
      )}{" "}
      <span className="figures">
        {made.right} of {made.questions}
      </span>{" "}
      <span className="soft">
        {made.title !== "" && `${made.engine_name}, `}
        {saysHowFar(made)}
        {", "}
        {day(made.made_at)}
      </span>
      <span className="drill-life">
        <button
          type="button"
          className="button"
          aria-label={`Rename ${name}`}
          onClick={() => setNaming(true)}
        >
          Rename
        </button>
        <button
          type="button"
          className="button"
          aria-label={`${made.away ? "Bring back" : "Put away"} ${name}`}
          onClick={() => change({ away: !made.away })}
        >
          {made.away ? "Bring back" : "Put away"}
        </button>
        {made.answered === 0 && (
          <button
            type="button"
            className="button"
            aria-label={`Delete ${name}, unanswered`}
            onClick={remove}
          >
            Delete
          </button>
        )}
      </span>
      {error !== null && (
        <span className="notice" role="alert">
          {sentence(error)}
        </span>
      )}
    </li>
  );
}

function saysHowFar({ answered, questions }: Score): string {
  if (answered === 0) return "not begun";
  return answered < questions ? `${counted(answered, "answer")} given` : "done";
}

type NamingProps = { made: Score; onDone: (title: string | null) => void };

function Naming({ made, onDone }: NamingProps) {
  const [title, setTitle] = useState(made.title);
  return (
    <form
      className="drill-naming"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        onDone(title);
      }}
      onKeyDown={(event) => event.key === "Escape" && onDone(null)}
    >
      <input
        className="field"
        aria-label="Title of this drill"
        maxLength={120}
        placeholder={made.engine_name}
        value={title}
        // biome-ignore lint/a11y/noAutofocus: opened by the person's own press, to type into
        autoFocus
        onChange={(event) => setTitle(event.target.value)}
      />
      <button type="submit" className="button">
        Keep
      </button>
    </form>
  );
}

function useChanges(id: number) {
  const queries = useQueryClient();
  const path = { params: { path: { drill_id: id } } };
  const onSuccess = () => queries.invalidateQueries({ queryKey: ownDrillsQuery.queryKey });
  const change = useMutation({
    mutationFn: (body: Schemas["Changes"]) =>
      unwrap(api.PATCH("/api/drills/{drill_id}", { ...path, body })),
    onSuccess,
  });
  const remove = useMutation({
    mutationFn: () => unwrap(api.DELETE("/api/drills/{drill_id}", path)),
    onSuccess,
  });
  return {
    change: change.mutate,
    remove: () => remove.mutate(),
    error: change.error ?? remove.error,
  };
}
