/** Stands of a class: real practice engines, each with its key. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Button, Form, Input, Select } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { enginesQuery, standsQuery } from "../api/queries";
import { Badge } from "../app/Badge";
import { Empty, sentence } from "../app/feedback";
import { mm } from "../app/lengths";
import { OpenForWork } from "../safety/OpenForWork";
import { KeyForm } from "./KeyForm";

type Stand = Schemas["StandOut"];

export function StandsTab({ classId }: { classId: number }) {
  const { data: stands } = useSuspenseQuery(standsQuery(classId));
  return (
    <div className="tab">
      <NewStand classId={classId} />
      {stands.length === 0 && (
        <Empty title="No stand yet">
          A stand is a practice engine in your workshop. Name one, then enter its key: the gaps as
          you measured them.
        </Empty>
      )}
      {stands.map((stand) => (
        <StandCard key={stand.id} stand={stand} classId={classId} />
      ))}
    </div>
  );
}

function StandCard({ stand, classId }: { stand: Stand; classId: number }) {
  const [editing, setEditing] = useState(false);
  return (
    <section className="card stand">
      <header>
        <div>
          <h2>{stand.name}</h2>
          <p className="soft">{stand.engine_name}</p>
        </div>
        {stand.key && !editing && (
          <Link className="button" to={`/study/${stand.id}`}>
            Gauge study
          </Link>
        )}
        {!editing && (
          <Button type={stand.key ? "default" : "primary"} onClick={() => setEditing(true)}>
            {stand.key ? "Measure anew" : "Enter the key"}
          </Button>
        )}
      </header>
      {editing ? (
        <>
          <OpenForWork
            engineId={stand.engine_id}
            version={stand.engine_version}
            standId={stand.id}
          />
          <KeyForm stand={stand} classId={classId} onClose={() => setEditing(false)} />
        </>
      ) : stand.key ? (
        <KeyShown stand={stand} />
      ) : (
        <p className="soft">No key yet, so no sheet can be set for it.</p>
      )}
    </section>
  );
}

const ORIGINS: Record<string, (key: Schemas["KeyOut"]) => string> = {
  passes: (key) => `, from ${key.gaps[0]?.passes.length ?? 0} passes by ${key.note}`,
  adjusted: (key) => `, as left by ${key.note}`,
};

function KeyShown({ stand }: { stand: Stand }) {
  if (!stand.key) return null;
  return (
    <>
      <p className="soft">
        Key {stand.key.number},{" "}
        {new Date(stand.key.made_at).toLocaleDateString([], { dateStyle: "medium" })} by{" "}
        {stand.key.made_by}
        {Number(stand.key.uncertainty_mm) > 0 &&
          `, each gap known to ±${mm(Number(stand.key.uncertainty_mm))}`}
        {ORIGINS[stand.key.origin]?.(stand.key) ?? ""}
      </p>
      <ul className="key">
        {stand.valves.map((valve) => {
          const gap = stand.key?.gaps.find((g) => g.valve === valve.number);
          return (
            <li key={valve.number} className={valve.role}>
              <Badge number={valve.number} role={valve.role} size={34} />
              <span className="figures">
                {gap ? (/[a-z]$/i.test(gap.typed) ? gap.typed : `${gap.typed} ${gap.unit}`) : "–"}
              </span>
              <b>{gap && gap.verdict !== "within" ? gap.verdict : ""}</b>
            </li>
          );
        })}
      </ul>
    </>
  );
}

function NewStand({ classId }: { classId: number }) {
  const queries = useQueryClient();
  const { data: engines } = useSuspenseQuery(enginesQuery);
  const [form] = Form.useForm();
  const create = useMutation({
    mutationFn: (body: Schemas["NewStand"]) =>
      unwrap(
        api.POST("/api/classes/{class_id}/stands", {
          params: { path: { class_id: classId } },
          body,
        }),
      ),
    onSuccess: () => {
      form.resetFields();
      queries.invalidateQueries(standsQuery(classId));
    },
  });
  return (
    <Form
      form={form}
      layout="inline"
      className="new-stand"
      onFinish={(body) => create.mutate(body)}
    >
      <Form.Item
        name="name"
        label="New stand"
        rules={[{ required: true, whitespace: true, message: "Give the stand a name" }]}
        {...(create.isError ? { help: sentence(create.error), validateStatus: "error" } : {})}
      >
        <Input maxLength={80} placeholder="Stand 4" />
      </Form.Item>
      <Form.Item
        name="engine_id"
        label="Engine"
        rules={[{ required: true, message: "Choose its engine" }]}
      >
        <Select
          className="engine-select"
          placeholder="from the shelf"
          showSearch={{ optionFilterProp: "label" }}
          options={engines.map((engine) => ({ value: engine.id, label: engine.name }))}
        />
      </Form.Item>
      <Button htmlType="submit" loading={create.isPending}>
        Add stand
      </Button>
    </Form>
  );
}
