/** Booking shims of one size in or out, and what is said of its box. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Form, Input, InputNumber, Modal } from "antd";
import { api, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { PanelWays } from "../kit/Panel";
import { Problem } from "../kit/Problem";
import { type Stock, size } from "./words";

/** way: 1 is in, -1 is out. */
export type Booking = { stock: Stock; way: 1 | -1 };
type Typed = { count: number; note?: string };

export function Book({ booking, onClose }: { booking: Booking | null; onClose: () => void }) {
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: ({ count, note = "" }: Typed) => {
      if (booking === null) throw new Error("nothing is booked");
      return unwrap(
        api.POST("/api/store/sizes/{shim_id}/moves", {
          params: { path: { shim_id: booking.stock.id } },
          body: { change: booking.way * count, note },
        }),
      );
    },
    onSettled: () => queries.invalidateQueries({ queryKey: keys.store }),
    onSuccess: onClose,
  });
  const name = booking ? `${size(booking.stock.size_mm)} mm` : "";
  const title = booking?.way === 1 ? `Put ${name} in` : `Take ${name} out`;
  return (
    <Modal
      open={booking !== null}
      title={title}
      footer={null}
      onCancel={onClose}
      afterClose={() => save.reset()}
      destroyOnHidden
    >
      <Form<Typed>
        layout="vertical"
        className="panel-form"
        initialValues={{ count: 1 }}
        onFinish={(typed) => save.mutate(typed)}
      >
        <Form.Item
          name="count"
          label="How many"
          rules={[{ required: true, message: "Give how many" }]}
          extra={booking && `${booking.stock.count} there, ${booking.stock.free} free`}
        >
          <InputNumber min={1} max={500} precision={0} autoFocus />
        </Form.Item>
        <Form.Item name="note" label="What for, or where from">
          <Input maxLength={200} placeholder="Stand 4, valve 7" />
        </Form.Item>
        <Problem error={save.error} />
        <PanelWays
          does={booking?.way === 1 ? "Put in" : "Take out"}
          pending={save.isPending}
          onClose={onClose}
        />
      </Form>
    </Modal>
  );
}
