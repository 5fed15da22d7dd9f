/** One task of a rota: what it is, where it may be done, by how many, and what comes before. */
import { Button, Checkbox, Input, InputNumber, Select } from "antd";
import type { Schemas } from "../api/client";
import { KINDS, type Wish, type WishedTask } from "./words";

type Props = {
  wish: Wish;
  task: WishedTask;
  sheets: readonly Schemas["SheetRow"][];
  practice: readonly Schemas["PracticeOut"][];
  onChange: (task: WishedTask) => void;
  onRemove: () => void;
};

export function TaskForm({ wish, task, sheets, practice, onChange, onRemove }: Props) {
  const put = (change: Partial<WishedTask>) => onChange({ ...task, ...change });
  const things = task.kind === "sheet" ? sheets : task.kind === "practice" ? practice : [];
  const others = (wish.tasks ?? []).filter((one) => one.key !== task.key);
  const places = wish.places ?? [];
  const name = (what: string) => `${what} of ${task.title}`;
  return (
    <fieldset className="rota-task-form">
      <legend className="visually-hidden">{task.title}</legend>
      <div className="rota-field">
        <span>Task</span>
        <Input
          value={task.title}
          maxLength={120}
          aria-label={name("Title")}
          onChange={(event) => put({ title: event.target.value })}
        />
      </div>
      <div className="rota-field">
        <span>What it is</span>
        <Select
          value={task.kind ?? "text"}
          aria-label={name("Kind")}
          onChange={(kind) => put({ kind, of: null, needs_cold: kind === "sheet" })}
          options={Object.entries(KINDS).map(([value, label]) => ({ value, label }))}
        />
      </div>
      {things.length > 0 && (
        <div className="rota-field">
          <span>Which</span>
          <Select
            value={task.of ?? null}
            aria-label={name("Which")}
            onChange={(of) =>
              put({ of, title: things.find((one) => one.id === of)?.title ?? task.title })
            }
            options={things.map((one) => ({ value: one.id, label: one.title }))}
          />
        </div>
      )}
      <div className="rota-field">
        <span>Group</span>
        <span className="group-size">
          <InputNumber
            min={1}
            max={40}
            value={task.least}
            aria-label={name("Least group")}
            onChange={(least) =>
              put({ least: least ?? 1, most: Math.max(least ?? 1, task.most ?? 1) })
            }
          />
          to
          <InputNumber
            min={1}
            max={40}
            value={task.most}
            aria-label={name("Largest group")}
            onChange={(most) =>
              put({ most: most ?? 1, least: Math.min(most ?? 1, task.least ?? 1) })
            }
          />
        </span>
      </div>
      <div className="where">
        <span id={`where-${task.key}`}>Where</span>
        <Checkbox.Group
          aria-labelledby={`where-${task.key}`}
          value={task.places ?? []}
          onChange={(keys) => put({ places: keys })}
          options={places.map((one) => ({ value: one.key, label: one.name }))}
        />
        {places.length > 0 && task.places?.length === 0 && (
          <span className="is-wrong">Tick where it may be done</span>
        )}
      </div>
      <div className="where">
        <Checkbox
          checked={task.needs_cold ?? false}
          onChange={(event) => put({ needs_cold: event.target.checked })}
        >
          Needs a cold engine
        </Checkbox>
        <Checkbox
          checked={task.runs_engine ?? false}
          onChange={(event) => put({ runs_engine: event.target.checked })}
        >
          Runs the engine
        </Checkbox>
      </div>
      {others.length > 0 && (
        <div className="rota-field">
          <span>After</span>
          <Select
            mode="multiple"
            value={task.after ?? []}
            aria-label={name("Tasks before it,")}
            placeholder="nothing"
            onChange={(after) => put({ after })}
            options={others.map((one) => ({ value: one.key, label: one.title }))}
          />
        </div>
      )}
      <Button type="text" aria-label={`Take out ${task.title}`} onClick={onRemove}>
        Take out
      </Button>
    </fieldset>
  );
}
