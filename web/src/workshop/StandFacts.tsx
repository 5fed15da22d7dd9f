/** How a stand is: its state, and what an instructor says of it. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Form, Input, Segmented } from "antd";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { moment } from "../app/school";
import { Figure } from "../kit/Figure";
import { Panel, PanelWays } from "../kit/Panel";
import { Problem } from "../kit/Problem";
import { changeStand } from "./changeStand";
import { State } from "./State";
import { type HallStand, onMeter } from "./words";

export function StandFacts({ stand }: { stand: HallStand }) {
  const [open, setOpen] = useState(false);
  const queries = useQueryClient();
  const again = () => queries.invalidateQueries({ queryKey: keys.stands });
  const cold = useMutation({
    mutationFn: () =>
      unwrap(api.POST("/api/stands/{stand_id}/cold", { params: { path: { stand_id: stand.id } } })),
    onSuccess: again,
  });
  const inOrder = useMutation({
    mutationFn: () => changeStand(stand.id, { out_of_order: "" }),
    onSuccess: again,
  });
  return (
    <section className="card stand-facts" aria-label="How it is">
      <State state={stand.state} why={stand.why} warmUntil={stand.warm_until} />
      <dl>
        <div>
          <dt>Meter</dt>
          <dd className="figures">{onMeter(stand.meter, stand.meter_unit) || "not read yet"}</dd>
        </div>
        <div>
          <dt>Cools for</dt>
          <dd className="figures">{Number(stand.cool_h)} h</dd>
        </div>
        <div>
          <dt>Used by</dt>
          <dd>{stand.classes.join(", ") || "no class yet"}</dd>
        </div>
        {stand.adjusted_at && (
          <div>
            <dt>Adjusted</dt>
            <dd>
              {moment(stand.adjusted_at)} by {stand.adjusted_by}
            </dd>
          </div>
        )}
      </dl>
      <div className="ways">
        {stand.warm_until !== null && (
          <Button loading={cold.isPending} onClick={() => cold.mutate()}>
            It is cold already
          </Button>
        )}
        {stand.state === "out-of-order" && (
          <Button loading={inOrder.isPending} onClick={() => inOrder.mutate()}>
            It is in order again
          </Button>
        )}
        <Button onClick={() => setOpen(true)}>Change what is said of it</Button>
      </div>
      <Problem error={cold.error ?? inOrder.error} />
      <Panel open={open} title={stand.name} onClose={() => setOpen(false)}>
        <FactsForm
          stand={stand}
          onDone={() => {
            setOpen(false);
            again();
          }}
        />
      </Panel>
    </section>
  );
}

type Facts = { place: string; meter: "h" | "km"; cool_h: string; out_of_order: string };

function FactsForm({ stand, onDone }: { stand: HallStand; onDone: () => void }) {
  const save = useMutation({
    mutationFn: (facts: Facts) => {
      const body: Schemas["StandChanges"] = {
        ...facts,
        cool_h: facts.cool_h.trim().replace(",", ".") || null,
      };
      return changeStand(stand.id, body);
    },
    onSuccess: onDone,
  });
  return (
    <Form<Facts>
      layout="vertical"
      className="panel-form"
      initialValues={{
        place: stand.place,
        meter: stand.meter_unit,
        cool_h: String(Number(stand.cool_h)),
        out_of_order: stand.state === "out-of-order" ? stand.why : "",
      }}
      onFinish={(facts) => save.mutate(facts)}
    >
      <Form.Item name="place" label="Where it stands">
        <Input maxLength={80} placeholder="hall 2, by the gate" />
      </Form.Item>
      <Form.Item name="meter" label="Its meter counts">
        <Segmented
          options={[
            { value: "h", label: "hours" },
            { value: "km", label: "kilometres" },
          ]}
        />
      </Form.Item>
      <Form.Item name="cool_h" label="Cools for, in hours, after it was run">
        <Figure />
      </Form.Item>
      <Form.Item
        name="out_of_order"
        label="Out of order, and why"
        extra="Leave it blank while it is in order."
      >
        <Input maxLength={200} placeholder="stud pulled out of the head" />
      </Form.Item>
      <Problem error={save.error} intro="This was not kept" />
      <PanelWays does="Keep it" pending={save.isPending} onClose={onDone} />
    </Form>
  );
}
