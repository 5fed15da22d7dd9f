/** Practice engines of a class: setting one with its faults, and how each run went. */
import { useMutation, useQuery, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Button, Checkbox, Form, Input, InputNumber, Select } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { cycleQuery, enginesQuery, practiceQuery, practiceRunsQuery } from "../api/queries";
import { Empty, sentence, Waiting } from "../app/feedback";
import { ListTable } from "../app/ListTable";
import { FAULTS, STARTS, WHOLE_ENGINE } from "../practice/words";

type Practice = Schemas["PracticeOut"];
type Fault = Schemas["FaultIn"];

const LEVELS = [
  { value: "shown", label: "shown: the next leaf is named" },
  { value: "prompted", label: "prompted: asked before a mistake costs" },
  { value: "alone", label: "alone: nothing until the end" },
  { value: "test", label: "test: timed, nothing until the end" },
];
const BOXES = [
  { value: "metric", label: "metric leaves" },
  { value: "thou", label: "leaves in thou" },
  { value: "mixed", label: "both" },
  { value: "angled", label: "leaves bent to 45°" },
  { value: "stepped", label: "stepped leaves, by 0.05 mm" },
];

export function PracticeTab({ classId }: { classId: number }) {
  const { data: practice } = useSuspenseQuery(practiceQuery(classId));
  const [opened, setOpened] = useState<number | null>(null);
  return (
    <div className="tab">
      <SetPractice classId={classId} />
      {practice.length === 0 ? (
        <Empty title="No practice engine yet">
          Choose an engine above, plant what students are to find, and set it.
        </Empty>
      ) : (
        <ListTable
          label="Practice engines"
          rows={practice}
          keyOf={(one) => one.id}
          columns={[
            { title: "Practice engine", show: (p) => p.title },
            {
              title: "Engine",
              show: (p) => <Link to={`/bench/${p.engine_id}`}>{p.engine_name}</Link>,
            },
            { title: "Coaching", show: (p) => p.level },
            { title: "Faults", right: true, show: (p) => p.fault_count },
            {
              title: "Runs",
              right: true,
              show: (p) => (
                <button
                  type="button"
                  className="button"
                  aria-expanded={opened === p.id}
                  onClick={() => setOpened(opened === p.id ? null : p.id)}
                >
                  {p.run_count} {p.run_count === 1 ? "run" : "runs"}
                </button>
              ),
            },
          ]}
        />
      )}
      {opened !== null && <Runs practice={practice.find((one) => one.id === opened)} />}
    </div>
  );
}

function Runs({ practice }: { practice: Practice | undefined }) {
  const runs = useQuery({
    ...practiceRunsQuery(practice?.id ?? 0),
    enabled: practice !== undefined,
  });
  if (runs.isPending) return <Waiting />;
  if (!runs.data?.length) return <Empty title="Nobody has begun">Runs appear here.</Empty>;
  return (
    <ListTable
      label={`Runs on ${practice?.title}`}
      rows={runs.data}
      keyOf={(run) => run.id}
      columns={[
        { title: "Student", show: (r) => r.student },
        { title: "Run", right: true, show: (r) => r.attempt },
        { title: "Steps", right: true, show: (r) => r.step },
        { title: "First start", show: (r) => (r.ended_at ? STARTS[r.outcome] : "at work") },
        {
          title: "Debrief",
          show: (r) => (
            <Link className="button" to={`/debrief/${r.id}`}>
              Debrief
            </Link>
          ),
        },
      ]}
    />
  );
}

type Wish = Omit<Schemas["PracticeIn"], "faults">;

function SetPractice({ classId }: { classId: number }) {
  const queries = useQueryClient();
  const [form] = Form.useForm<Wish>();
  const { data: engines } = useSuspenseQuery(enginesQuery);
  const [faults, setFaults] = useState<Fault[]>([]);
  const engineId = Form.useWatch("engine_id", form);
  const level = Form.useWatch("level", form);
  const set = useMutation({
    mutationFn: (body: Wish) =>
      unwrap(
        api.POST("/api/classes/{class_id}/practice", {
          params: { path: { class_id: classId } },
          body: { ...body, faults },
        }),
      ),
    onSuccess: () => {
      form.resetFields();
      setFaults([]);
      queries.invalidateQueries(practiceQuery(classId));
    },
  });
  return (
    <Form
      form={form}
      layout="vertical"
      className="card set-sheet"
      initialValues={{
        level: "prompted",
        box: "metric",
        same_for_all: true,
        stack_help: false,
        bridged: false,
        minutes: null,
      }}
      onFinish={(body) => set.mutate(body)}
    >
      <Form.Item
        name="title"
        label="Title"
        rules={[{ required: true, whitespace: true, message: "Give it a title" }]}
      >
        <Input maxLength={80} placeholder="Pump, two valves off" />
      </Form.Item>
      <Form.Item
        name="engine_id"
        label="Engine"
        rules={[{ required: true, message: "Choose an engine" }]}
      >
        <Select
          placeholder="from the shelf"
          showSearch={{ optionFilterProp: "label" }}
          options={engines.map((engine) => ({ value: engine.id, label: engine.name }))}
          onChange={() => setFaults([])}
        />
      </Form.Item>
      <Form.Item name="level" label="Coaching">
        <Select options={LEVELS} />
      </Form.Item>
      <Form.Item name="box" label="In the box">
        <Select options={BOXES} />
      </Form.Item>
      {level === "test" && (
        <Form.Item name="minutes" label="Minutes">
          <InputNumber min={1} max={600} placeholder="20" />
        </Form.Item>
      )}
      <Form.Item name="same_for_all" valuePropName="checked" label="Figures">
        <Checkbox>the same for every student</Checkbox>
      </Form.Item>
      <Form.Item name="bridged" valuePropName="checked" label="Rockers">
        <Checkbox>work through bridges</Checkbox>
      </Form.Item>
      <Form.Item name="stack_help" valuePropName="checked" label="Help">
        <Checkbox>may ask which leaves make a size</Checkbox>
      </Form.Item>
      {engineId && <Plant engineId={engineId} faults={faults} onFaults={setFaults} />}
      {set.isError && (
        <p className="notice" role="alert">
          {sentence(set.error)}
        </p>
      )}
      <Button type="primary" htmlType="submit" loading={set.isPending}>
        Set this practice engine
      </Button>
    </Form>
  );
}

type PlantProps = { engineId: number; faults: Fault[]; onFaults: (faults: Fault[]) => void };

/** Faults, one after another: what, and on which valve. */
function Plant({ engineId, faults, onFaults }: PlantProps) {
  const { data: table } = useQuery(cycleQuery(engineId, null));
  const [kind, setKind] = useState<Fault["kind"]>("wrong-setting");
  const [valve, setValve] = useState<number | null>(null);
  const whole = WHOLE_ENGINE.has(kind);
  const add = () => {
    onFaults([...faults, { kind, valve: whole ? null : valve }]);
    setValve(null);
  };
  return (
    <fieldset className="plant">
      <legend>Planted faults</legend>
      <div className="plant-line">
        <Select
          aria-label="Fault"
          value={kind}
          onChange={setKind}
          options={Object.entries(FAULTS).map(([value, label]) => ({ value, label }))}
        />
        {!whole && (
          <Select
            aria-label="On valve"
            placeholder="valve"
            showSearch={{ optionFilterProp: "label" }}
            value={valve}
            onChange={setValve}
            options={(table?.engine.valves ?? []).map((one) => ({
              value: one.number,
              label: `${one.number}, ${one.role}, cylinder ${one.cylinder}`,
            }))}
          />
        )}
        <Button onClick={add} disabled={!whole && valve === null}>
          Plant it
        </Button>
      </div>
      <ul>
        {faults.map((fault, place) => (
          <li key={`${fault.kind} ${fault.valve}`}>
            {FAULTS[fault.kind]}
            {fault.valve && `, valve ${fault.valve}`}{" "}
            <Button
              size="small"
              aria-label={`Take out ${FAULTS[fault.kind]}`}
              onClick={() => onFaults(faults.filter((_, other) => other !== place))}
            >
              Take out
            </Button>
          </li>
        ))}
      </ul>
    </fieldset>
  );
}
