/** Who is where and how far: by place of the rota, then whoever is booked nowhere. */
import type { Schemas } from "../api/client";
import { useMinutes } from "./useMinutes";

type Now = Schemas["ClassNowOut"];
type Person = Schemas["PersonNowOut"];
type Doing = Schemas["DoingOut"];

export function People({ now }: { now: Now }) {
  const groups = new Map<string, Person[]>();
  for (const place of now.now?.places ?? []) groups.set(titleOf(place), []);
  for (const person of now.people) {
    const title = person.place ? titleOf(person) : "";
    groups.set(title, [...(groups.get(title) ?? []), person]);
  }
  const booked = [...groups].filter(([title]) => title !== "");
  const others = groups.get("") ?? [];
  return (
    <section className="people" aria-label="Who is where">
      {booked.map(([title, people]) => (
        <Group key={title} title={title} people={people} />
      ))}
      {others.length > 0 && (
        <Group title={booked.length > 0 ? "Not booked now" : "Students"} people={others} />
      )}
      {now.people.length === 0 && <p className="soft">No students in this class yet.</p>}
    </section>
  );
}

const titleOf = ({ place, task }: { place: string; task: string }) => `${place}: ${task}`;

function Group({ title, people }: { title: string; people: readonly Person[] }) {
  return (
    <div className="card people-group">
      <h2>{title}</h2>
      <ul>
        {people.map((person) => (
          <li key={person.id}>
            <span className="people-name">
              {person.name}
              {person.hand_at !== null && <b className="hand-sign"> hand up</b>}
            </span>
            <span className="people-doing">
              {person.doing.length === 0 && <span className="soft">nothing begun today</span>}
              {person.doing.slice(-2).map((doing) => (
                <How key={`${doing.what} ${doing.title} ${doing.at}`} doing={doing} />
              ))}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}

const DONE: Record<string, string> = { "handed-in": "handed in", ended: "run ended" };

function How({ doing }: { doing: Doing }) {
  const left = useMinutes(doing.until);
  return (
    <span className={`how ${doing.state}`}>
      <span className="how-title">{doing.title}</span>
      {doing.of !== null && (
        <span className="how-bar" aria-hidden="true">
          <i style={{ width: `${(doing.done / Math.max(1, doing.of)) * 100}%` }} />
        </span>
      )}
      <span className={doing.state in DONE ? undefined : "figures"}>{howFar(doing)}</span>
      {doing.until !== null && <span>{left} min left</span>}
    </span>
  );
}

function howFar({ state, done, of }: Doing): string {
  const ended = DONE[state];
  if (ended !== undefined) return ended;
  return of === null ? `step ${done}` : `${done} of ${of}`;
}
