/** Stands of a class: real practice engines, each with its key. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Button, Drawer, Empty, Form, Input, Modal, Select } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { enginesQuery, standsQuery } from "../api/queries";
import { Badge } from "../app/Badge";
import { mm } from "../app/lengths";
import { PanelWays } from "../kit/Panel";
import { Problem } from "../kit/Problem";
import { Named } from "../kit/Rename";
import { OpenForWork } from "../safety/OpenForWork";
import { KeyForm } from "./KeyForm";

type Stand = Schemas["StandOut"];

export function StandsTab({ classId }: { classId: number }) {
  const { data: stands } = useSuspenseQuery(standsQuery(classId));
  const [measured, setMeasured] = useState<Stand | null>(null);
  return (
    <div className="tab">
      <div className="ways">
        <NewStand classId={classId} />
      </div>
      {stands.length === 0 && (
        <Empty description="No stand yet. A stand is a practice engine in your workshop: name one, then enter its key, the gaps as you measured them." />
      )}
      {stands.map((stand) => (
        <StandCard key={stand.id} stand={stand} onMeasure={() => setMeasured(stand)} />
      ))}
      <Drawer
        open={measured !== null}
        title={`Key of ${measured?.name ?? ""}`}
        size={760}
        closable={false}
        mask={{ closable: false }}
        keyboard={false}
        destroyOnHidden
      >
        {measured && (
          <>
            <OpenForWork
              engineId={measured.engine_id}
              version={measured.engine_version}
              standId={measured.id}
            />
            <KeyForm stand={measured} classId={classId} onClose={() => setMeasured(null)} />
          </>
        )}
      </Drawer>
    </div>
  );
}

function StandCard({ stand, onMeasure }: { stand: Stand; onMeasure: () => void }) {
  return (
    <section className="card stand">
      <header>
        <div>
          <h2>
            <Named
              name={stand.name}
              maxLength={80}
              save={(name) =>
                unwrap(
                  api.PATCH("/api/stands/{stand_id}", {
                    params: { path: { stand_id: stand.id } },
                    body: { name },
                  }),
                )
              }
            >
              {stand.name}
            </Named>
          </h2>
          <p className="soft">{stand.engine_name}</p>
        </div>
        {stand.key && (
          <Link className="button" to={`/study/${stand.id}`}>
            Gauge study
          </Link>
        )}
        <Button type={stand.key ? "default" : "primary"} onClick={onMeasure}>
          {stand.key ? "Measure again" : "Enter the key"}
        </Button>
      </header>
      {stand.key ? (
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
  const [open, setOpen] = useState(false);
  const create = useMutation({
    mutationFn: (body: Schemas["NewStand"]) =>
      unwrap(
        api.POST("/api/classes/{class_id}/stands", {
          params: { path: { class_id: classId } },
          body,
        }),
      ),
    onSuccess: () => {
      setOpen(false);
      queries.invalidateQueries({ queryKey: keys.ofClass(classId, "stands") });
    },
  });
  return (
    <>
      <Button type="primary" onClick={() => setOpen(true)}>
        New stand
      </Button>
      <Modal
        open={open}
        title="New stand"
        footer={null}
        onCancel={() => setOpen(false)}
        destroyOnHidden
      >
        <Form layout="vertical" className="panel-form" onFinish={(body) => create.mutate(body)}>
          <Form.Item
            name="name"
            label="Name"
            rules={[{ required: true, whitespace: true, message: "Give the stand a name" }]}
          >
            <Input maxLength={80} placeholder="Stand 4" autoFocus />
          </Form.Item>
          <Form.Item
            name="engine_id"
            label="Engine"
            rules={[{ required: true, message: "Choose its engine" }]}
          >
            <Select
              placeholder="from the shelf"
              showSearch={{ optionFilterProp: "label" }}
              options={engines.map((engine) => ({ value: engine.id, label: engine.name }))}
            />
          </Form.Item>
          <Problem error={create.error} />
          <PanelWays does="Add stand" pending={create.isPending} onClose={() => setOpen(false)} />
        </Form>
      </Modal>
    </>
  );
}
