/** Hands that are up, who has waited longest first; taken down by who has been there. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, type Schemas, unwrap } from "../api/client";
import { classNowQuery } from "../api/now";
import { sentence } from "../app/feedback";
import { useMinutes } from "./useMinutes";

type Person = Schemas["PersonNowOut"];

export function Hands({ classId, people }: { classId: number; people: readonly Person[] }) {
  const up = people
    .filter((one) => one.hand_at !== null)
    .sort((one, other) => (one.hand_at ?? "").localeCompare(other.hand_at ?? ""));
  const queries = useQueryClient();
  const lower = useMutation({
    mutationFn: (studentId: number) =>
      unwrap(
        api.DELETE("/api/classes/{class_id}/hands/{student_id}", {
          params: { path: { class_id: classId, student_id: studentId } },
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: classNowQuery(classId).queryKey }),
  });
  return (
    <section className="hands" aria-label="Hands up" aria-live="polite">
      {up.map((one) => (
        <Hand key={one.id} person={one} onDown={() => lower.mutate(one.id)} />
      ))}
      {lower.error !== null && (
        <p className="notice" role="alert">
          {sentence(lower.error)}
        </p>
      )}
    </section>
  );
}

function Hand({ person, onDown }: { person: Person; onDown: () => void }) {
  const minutes = useMinutes(person.hand_at);
  return (
    <p className="hand-up">
      <b>{person.name}</b>
      <span>
        {person.place && `${person.place}, `}
        {minutes === 0 ? "just now" : `for ${minutes} min`}
      </span>
      <button
        type="button"
        className="button"
        aria-label={`Take down the hand of ${person.name}`}
        onClick={onDown}
      >
        Been there
      </button>
    </p>
  );
}
