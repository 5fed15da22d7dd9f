/** What a rota is to hold: slots, places, tasks with the size of their groups. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Button, Checkbox, Input, InputNumber } from "antd";
import { useState } from "react";
import { classSheetsQuery, practiceQuery } from "../api/queries";
import { counted } from "../app/words";
import { TaskForm } from "./TaskForm";
import type { Wishing } from "./useWish";
import {
  byDay,
  clockOf,
  daysOf,
  dayWords,
  freeKey,
  type Rota,
  timesOf,
  type Wish,
  withSlots,
} from "./words";

type Props = { rota: Rota; wishing: Wishing };

export function Setup({ rota, wishing }: Props) {
  const { wish, set } = wishing;
  return (
    <div className="tab rota-tab rota-setup">
      <section className="card">
        <h2>Slots</h2>
        <AddDays wish={wish} onChange={set} />
        <Slots wish={wish} onChange={set} />
      </section>
      <section className="card">
        <h2>Places</h2>
        <Places rota={rota} wish={wish} onChange={set} />
      </section>
      <section className="card">
        <h2>Tasks</h2>
        <p className="soft">Every student does every task once.</p>
        <Tasks rota={rota} wish={wish} onChange={set} />
      </section>
    </div>
  );
}

type PartProps = { wish: Wish; onChange: (wish: Wish) => void };
const USUAL_TIMES = "08:00-09:45, 10:00-11:45, 13:00-14:45, 15:00-16:45";

function AddDays({ wish, onChange }: PartProps) {
  const [first, setFirst] = useState("");
  const [last, setLast] = useState("");
  const [typed, setTyped] = useState(USUAL_TIMES);
  const times = timesOf(typed);
  const made = first && times ? daysOf(first, last || first, times) : [];
  return (
    <div className="add-days">
      <div className="rota-field">
        <span>First day</span>
        <Input
          type="date"
          aria-label="First day"
          value={first}
          onChange={(event) => setFirst(event.target.value)}
        />
      </div>
      <div className="rota-field">
        <span>Last day</span>
        <Input
          type="date"
          aria-label="Last day"
          value={last}
          min={first}
          onChange={(event) => setLast(event.target.value)}
        />
      </div>
      <div className="rota-field times">
        <span>Slots of a day</span>
        <Input
          aria-label="Slots of a day"
          value={typed}
          status={times === null ? "error" : ""}
          onChange={(event) => setTyped(event.target.value)}
        />
        {times === null && (
          <span className="is-wrong">Give from and to, like 08:00-09:45, 10:00-11:45</span>
        )}
      </div>
      <Button disabled={made.length === 0} onClick={() => onChange(withSlots(wish, made))}>
        {made.length > 0 ? `Add ${counted(made.length, "slot")}` : "Add slots"}
      </Button>
    </div>
  );
}

function Slots({ wish, onChange }: PartProps) {
  const slots = wish.slots ?? [];
  if (slots.length === 0) return <p className="soft">No slot yet. Weekends are left out.</p>;
  const without = (start: string) =>
    onChange({ ...wish, slots: slots.filter((slot) => slot.start !== start) });
  return (
    <ul className="slot-days">
      {byDay(slots).map(([day, of]) => (
        <li key={day}>
          <b>{dayWords(of[0]?.start ?? "")}</b>
          <span className="slot-chips">
            {of.map((slot) => (
              <Button
                key={slot.start}
                aria-label={`Take out ${dayWords(slot.start)} ${clockOf(slot.start)}`}
                onClick={() => without(slot.start)}
              >
                <span className="figures">
                  {clockOf(slot.start)}–{clockOf(slot.end)}
                </span>{" "}
                ×
              </Button>
            ))}
          </span>
        </li>
      ))}
    </ul>
  );
}

function Places({ rota, wish, onChange }: PartProps & { rota: Rota }) {
  const places = wish.places ?? [];
  const tables = places.filter((place) => place.stand === null);
  const put = (next: Wish["places"]) => {
    const keys = new Set(next?.map((place) => place.key));
    onChange({
      ...wish,
      places: next ?? [],
      // A task loses the places that are taken out.
      tasks: (wish.tasks ?? []).map((task) => ({
        ...task,
        places: (task.places ?? []).filter((key) => keys.has(key)),
      })),
    });
  };
  const toggle = (stand: Rota["stands"][number], on: boolean) =>
    put(
      on
        ? [...places, { key: `stand-${stand.id}`, name: stand.name, stand: stand.id }]
        : places.filter((place) => place.stand !== stand.id),
    );
  const setTables = (count: number) => {
    const stands = places.filter((place) => place.stand !== null);
    const kept = tables.slice(0, count);
    while (kept.length < count) {
      const key = freeKey("table-", kept);
      kept.push({ key, name: `Table ${key.slice(6)}`, stand: null });
    }
    put([...stands, ...kept]);
  };
  return (
    <>
      <ul className="place-list">
        {rota.stands.map((stand) => (
          <li key={stand.id}>
            <Checkbox
              checked={places.some((place) => place.stand === stand.id)}
              onChange={(event) => toggle(stand, event.target.checked)}
            >
              <b>{stand.name}</b> <span className="soft">{stand.engine_name}</span>
            </Checkbox>
            {stand.out_of_order && (
              <span className="is-wrong">out of order: {stand.out_of_order}</span>
            )}
          </li>
        ))}
        {rota.stands.length === 0 && (
          <li className="soft">This class uses no stand of the hall yet.</li>
        )}
      </ul>
      <div className="add-days">
        <div className="rota-field">
          <span>Tables, for work without a stand</span>
          <InputNumber
            aria-label="Tables, for work without a stand"
            min={0}
            max={20}
            value={tables.length}
            onChange={(count) => setTables(count ?? 0)}
          />
        </div>
        <div className="rota-field">
          <span>Places that one instructor looks after</span>
          <InputNumber
            aria-label="Places that one instructor looks after"
            min={0}
            max={60}
            value={wish.stands_each}
            onChange={(count) => onChange({ ...wish, stands_each: count ?? 0 })}
          />
        </div>
      </div>
    </>
  );
}

function Tasks({ rota, wish, onChange }: PartProps & { rota: Rota }) {
  const { data: sheets } = useSuspenseQuery(classSheetsQuery(rota.class_id));
  const { data: practice } = useSuspenseQuery(practiceQuery(rota.class_id));
  const tasks = wish.tasks ?? [];
  return (
    <>
      {tasks.map((task) => (
        <TaskForm
          key={task.key}
          wish={wish}
          task={task}
          sheets={sheets.filter((one) => !one.away)}
          practice={practice.filter((one) => !one.away)}
          onChange={(next) =>
            onChange({ ...wish, tasks: tasks.map((one) => (one.key === task.key ? next : one)) })
          }
          onRemove={() =>
            onChange({
              ...wish,
              tasks: tasks
                .filter((one) => one.key !== task.key)
                .map((one) => ({ ...one, after: (one.after ?? []).filter((k) => k !== task.key) })),
            })
          }
        />
      ))}
      <Button
        onClick={() =>
          onChange({
            ...wish,
            tasks: [
              ...tasks,
              {
                key: freeKey("t", tasks),
                title: `Task ${tasks.length + 1}`,
                kind: "text",
                of: null,
                places: [],
                least: 1,
                most: 2,
                needs_cold: false,
                runs_engine: false,
                after: [],
              },
            ],
          })
        }
      >
        Add a task
      </Button>
    </>
  );
}
