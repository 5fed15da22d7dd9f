/** One booking changed by hand: what it would break is said before it is kept. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Checkbox, Form, Select } from "antd";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { Panel } from "../kit/Panel";
import { Problem } from "../kit/Problem";
import { type Booking, type Rota, slotWords } from "./words";

/** A cell of the week: a booking, or a place that is free. */
export type Picked = { slot: string; place: string; booking: Booking | null };
type Typed = Pick<Booking, "slot" | "place" | "task" | "students" | "pinned">;

type Props = { rota: Rota; picked: Picked | null; onClose: () => void };

export function BookingPanel({ rota, picked, onClose }: Props) {
  const [touched, setTouched] = useState(false);
  const close = () => {
    setTouched(false);
    onClose();
  };
  return (
    <Panel
      open={picked !== null}
      typed={touched}
      title={picked?.booking ? "Change a booking" : "Book by hand"}
      onClose={close}
    >
      {picked && (
        <BookingForm rota={rota} picked={picked} onTouch={() => setTouched(true)} onDone={close} />
      )}
    </Panel>
  );
}

type FormProps = { rota: Rota; picked: Picked; onTouch: () => void; onDone: () => void };

function BookingForm({ rota, picked, onTouch, onDone }: FormProps) {
  const queries = useQueryClient();
  const tasks = rota.wish.tasks ?? [];
  const [typed, setTyped] = useState<Typed>(
    picked.booking ?? {
      slot: picked.slot,
      place: picked.place,
      task: tasks.find((one) => one.places?.includes(picked.place))?.key ?? tasks[0]?.key ?? "",
      students: [],
      pinned: true,
    },
  );
  const put = (change: Partial<Typed>) => {
    onTouch();
    setTyped({ ...typed, ...change });
  };
  const id = picked.booking?.id ?? null;
  const path = { params: { path: { rota_id: rota.id } } };
  const body: Schemas["BookingIn"] = { id, take_out: false, ...typed };
  const tried = useQuery({
    queryKey: keys.ofRota(rota.id, `try ${JSON.stringify(body)}`),
    queryFn: () => unwrap(api.POST("/api/rotas/{rota_id}/bookings/try", { ...path, body })),
    enabled: typed.students.length > 0,
    gcTime: 0,
  });
  const breaks = tried.data ?? [];
  const change = useMutation({
    mutationFn: (out: boolean) =>
      unwrap(
        api.POST("/api/rotas/{rota_id}/bookings", {
          ...path,
          // Whoever keeps it has read what it breaks.
          body: { ...body, take_out: out, revision: rota.revision, confirmed: true },
        }),
      ),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: keys.rota(rota.id) });
      onDone();
    },
  });
  return (
    <Form layout="vertical" className="panel-form" onFinish={() => change.mutate(false)}>
      <Form.Item label="Slot" htmlFor="booking-slot">
        <Select
          id="booking-slot"
          value={typed.slot}
          onChange={(slot) => put({ slot })}
          options={(rota.wish.slots ?? []).map((one) => ({
            value: one.start,
            label: slotWords(one.start),
          }))}
        />
      </Form.Item>
      <Form.Item
        label="Place"
        htmlFor="booking-place"
        extra="Where another group stands, the two change places."
      >
        <Select
          id="booking-place"
          value={typed.place}
          onChange={(place) => put({ place })}
          options={(rota.wish.places ?? []).map((one) => ({ value: one.key, label: one.name }))}
        />
      </Form.Item>
      <Form.Item label="Task" htmlFor="booking-task">
        <Select
          id="booking-task"
          value={typed.task}
          onChange={(task) => put({ task })}
          options={tasks.map((one) => ({ value: one.key, label: one.title }))}
        />
      </Form.Item>
      <Form.Item label="Students" htmlFor="booking-students">
        <Select
          id="booking-students"
          mode="multiple"
          optionFilterProp="label"
          value={typed.students}
          onChange={(students) => put({ students })}
          options={rota.students.map((one) => ({ value: one.id, label: one.name }))}
        />
      </Form.Item>
      <Checkbox checked={typed.pinned} onChange={(event) => put({ pinned: event.target.checked })}>
        Pinned: stays as it is when the rota is planned anew
      </Checkbox>
      {breaks.length > 0 && (
        <Alert
          type="warning"
          showIcon
          title="This would break what the rota keeps to"
          description={
            <ul className="rota-list">
              {breaks.map((one) => (
                <li key={one.says}>{one.says}</li>
              ))}
            </ul>
          }
        />
      )}
      <Problem error={tried.error ?? change.error} />
      <div className="ways">
        <Button
          type="primary"
          htmlType="submit"
          loading={change.isPending}
          disabled={typed.students.length === 0 || tried.isFetching || tried.isError}
        >
          {breaks.length > 0 ? "Book it all the same" : "Book it"}
        </Button>
        {id !== null && (
          <Button danger loading={change.isPending} onClick={() => change.mutate(true)}>
            Take it out
          </Button>
        )}
      </div>
    </Form>
  );
}
