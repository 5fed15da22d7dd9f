/** Setting a practice engine: which one, what is planted in it, and how much is told meanwhile. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Checkbox, Form, Input, InputNumber, Select } from "antd";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { LEVELS, levelInWords } from "../app/practice-words";
import { EngineField } from "../kit/EngineField";
import { Panel, PanelWays } from "../kit/Panel";
import { Problem } from "../kit/Problem";
import { useSaid } from "../kit/useSaid";
import { type Fault, Plant } from "./Plant";

type Wish = Omit<Schemas["PracticeIn"], "faults" | "attempts"> & { again?: boolean };
type Props = { classId: number; open: boolean; onClose: () => void };

const LEVEL_CHOICES = Object.keys(LEVELS).map((value) => ({ value, label: levelInWords(value) }));
const BOXES = [
  { value: "metric", label: "metric leaves" },
  { value: "thou", label: "leaves in thou" },
  { value: "mixed", label: "both" },
  { value: "angled", label: "leaves bent to 45°" },
  { value: "stepped", label: "a set that goes by 0.05 mm" },
  { value: "steps", label: "metric, and step leaves (tip and body)" },
  { value: "steps-thou", label: "thou, and step leaves in thou" },
];
const USUAL = {
  level: "prompted",
  box: "metric",
  same_for_all: true,
  stack_help: false,
  minutes: null,
};

export function SetPractice({ classId, open, onClose }: Props) {
  const queries = useQueryClient();
  const said = useSaid();
  const [form] = Form.useForm<Wish>();
  const [faults, setFaults] = useState<Fault[]>([]);
  const [typed, setTyped] = useState(false);
  const engineId = Form.useWatch("engine_id", form);
  const set = useMutation({
    mutationFn: ({ again, ...body }: Wish) =>
      unwrap(
        api.POST("/api/classes/{class_id}/practice", {
          params: { path: { class_id: classId } },
          body: { ...body, faults, attempts: body.level === "test" && !again ? 1 : null },
        }),
      ),
    onSuccess: (made) => {
      queries.invalidateQueries({ queryKey: keys.ofClass(classId, "practice") });
      said(`${made.title} is set.`);
      close();
    },
  });
  function close() {
    form.resetFields();
    set.reset();
    setFaults([]);
    setTyped(false);
    onClose();
  }
  return (
    <Panel open={open} title="Set a practice engine" typed={typed} onClose={close}>
      <Form
        form={form}
        layout="vertical"
        className="panel-form"
        initialValues={USUAL}
        onValuesChange={(changed) => {
          setTyped(true);
          // A fault sits on a valve of the engine that was chosen.
          if ("engine_id" in changed) setFaults([]);
        }}
        onFinish={(body) => set.mutate(body)}
      >
        <Fields />
        {engineId && <Plant engineId={engineId} faults={faults} onFaults={setFaults} />}
        <Problem error={set.error} />
        <PanelWays does="Set this practice engine" pending={set.isPending} />
      </Form>
    </Panel>
  );
}

function Fields() {
  const level = Form.useWatch("level");
  const form = Form.useFormInstance();
  return (
    <>
      <Form.Item
        name="title"
        label="Title"
        rules={[{ required: true, whitespace: true, message: "Give it a title" }]}
      >
        <Input maxLength={80} placeholder="Pump, two valves off" />
      </Form.Item>
      <EngineField wanted="Choose an engine" />
      <Form.Item name="level" label="Coaching">
        {/* In a test everybody has figures of their own, unless it is said otherwise. */}
        <Select
          options={LEVEL_CHOICES}
          onChange={(chosen) => form.setFieldValue("same_for_all", chosen !== "test")}
        />
      </Form.Item>
      <Form.Item name="box" label="In the box">
        <Select options={BOXES} />
      </Form.Item>
      {level === "test" && (
        <Form.Item name="minutes" label="Minutes">
          <InputNumber min={1} max={600} precision={0} placeholder="20" />
        </Form.Item>
      )}
      {level === "test" && (
        <Form.Item name="again" valuePropName="checked" label="Attempts">
          <Checkbox>may be begun more than once</Checkbox>
        </Form.Item>
      )}
      <Form.Item name="same_for_all" valuePropName="checked" label="Figures">
        <Checkbox>the same for every student</Checkbox>
      </Form.Item>
      <Form.Item name="stack_help" valuePropName="checked" label="Help">
        <Checkbox>may ask which leaves make a size</Checkbox>
      </Form.Item>
    </>
  );
}
