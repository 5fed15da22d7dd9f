/** Setting a reading sheet: which stand, by which method, and what it asks for. */

import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Checkbox, Form, Input, Select } from "antd";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { asksQuery, standsQuery } from "../api/queries";
import { mm, thou } from "../app/lengths";
import { useMethods } from "../app/methods";
import { useUnit } from "../app/session";
import { Figure } from "../kit/Figure";
import { Panel, PanelWays } from "../kit/Panel";
import { Problem } from "../kit/Problem";
import { useSaid } from "../kit/useSaid";

type Props = { classId: number; open: boolean; onClose: () => void };

export function SetSheet({ classId, open, onClose }: Props) {
  const queries = useQueryClient();
  const said = useSaid();
  const unit = useUnit();
  const [form] = Form.useForm();
  const [typed, setTyped] = useState(false);
  const set = useMutation({
    mutationFn: (body: Schemas["NewSheetIn"]) =>
      unwrap(
        api.POST("/api/classes/{class_id}/sheets", {
          params: { path: { class_id: classId } },
          body: { ...body, tolerance_unit: unit },
        }),
      ),
    onSuccess: (sheet) => {
      queries.invalidateQueries({ queryKey: keys.ofClass(classId, "sheets") });
      said(`${sheet.title} is set.`);
      close();
    },
  });
  function close() {
    form.resetFields();
    set.reset();
    setTyped(false);
    onClose();
  }
  return (
    <Panel open={open} title="Set a sheet" typed={typed} onClose={close}>
      <Form
        form={form}
        layout="vertical"
        className="panel-form"
        initialValues={{ method: "two-stop", tolerance: unit === "mm" ? "0.03" : "1" }}
        onValuesChange={() => setTyped(true)}
        onFinish={(body) => set.mutate(body)}
      >
        <Fields classId={classId} />
        <Problem error={set.error} />
        <PanelWays does="Set this sheet" pending={set.isPending} />
      </Form>
    </Panel>
  );
}

function Fields({ classId }: { classId: number }) {
  const unit = useUnit();
  const { data: stands } = useSuspenseQuery(standsQuery(classId));
  const { data: asks } = useSuspenseQuery(asksQuery);
  const form = Form.useFormInstance();
  const standId = Form.useWatch("stand_id", form);
  const chosen = stands.find((stand) => stand.id === standId);
  return (
    <>
      <Form.Item
        name="title"
        label="Title"
        rules={[{ required: true, whitespace: true, message: "Give the sheet a title" }]}
      >
        <Input maxLength={120} placeholder="First measuring" />
      </Form.Item>
      <Form.Item
        name="stand_id"
        label="Stand"
        rules={[{ required: true, message: "Choose a stand" }]}
      >
        <Select
          placeholder="with a key"
          options={stands.filter((stand) => !stand.away).map(standOption)}
          onChange={(id: number) => {
            // Valves that are pulled shut are measured twice: asked for, unless it is taken out.
            const own = stands.find((stand) => stand.id === id);
            const ofClosing = new Set(
              asks.filter((ask) => ask.needs === CLOSING).map((ask) => ask.name),
            );
            const ticked: string[] = form.getFieldValue("asks") ?? [];
            const others = ticked.filter((name) => !ofClosing.has(name));
            const can = own?.asks ?? [];
            const kept = others.filter((name) => can.includes(name));
            form.setFieldValue("asks", can.includes("closing") ? [...kept, "closing"] : kept);
          }}
        />
      </Form.Item>
      <Form.Item name="method" label="Method">
        <Select options={useMethods().map((m) => ({ value: m.name, label: m.title }))} />
      </Form.Item>
      <Form.Item
        name="tolerance"
        label={`Readings count within ± (${unit})`}
        extra={unit === "mm" ? `0.03 mm is ${thou(0.03)}` : `1 thou is ${mm(0.0254)}`}
        rules={[{ required: true, message: "Give a tolerance" }]}
      >
        <Figure maxLength={20} suffix={unit} />
      </Form.Item>
      <Form.Item
        name="gauge"
        label={`Gauge uncertainty ± (${unit})`}
        extra="Nearer than this to a limit, “can't tell” is right too. Leave blank never to accept it."
      >
        <Figure maxLength={20} suffix={unit} />
      </Form.Item>
      <Form.Item name="asks" label="Also ask for" className="asks">
        <Checkbox.Group
          options={asks
            .filter((ask) => (chosen ? chosen.asks.includes(ask.name) : ask.needs === "nothing"))
            .map((ask) => ({ value: ask.name, label: ask.title }))}
        />
      </Form.Item>
    </>
  );
}

const CLOSING = "a closing rocker";

function standOption(stand: Schemas["StandOut"]) {
  return {
    value: stand.id,
    label: stand.key ? `${stand.name}, ${stand.engine_name}` : `${stand.name} (no key yet)`,
    disabled: stand.key === null,
  };
}
