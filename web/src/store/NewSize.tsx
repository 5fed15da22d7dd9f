/** A size that the store has not yet. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Form, Input, InputNumber, Modal } from "antd";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { Figure } from "../kit/Figure";
import { PanelWays } from "../kit/Panel";
import { Problem } from "../kit/Problem";

type Typed = Schemas["NewSizeIn"];

export function NewSize() {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const add = useMutation({
    mutationFn: (body: Typed) => unwrap(api.POST("/api/store/sizes", { body })),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: keys.store });
      setOpen(false);
    },
  });
  const wanted = [{ required: true, message: "Give a figure in mm" }];
  return (
    <>
      <Button type="primary" onClick={() => setOpen(true)}>
        New size
      </Button>
      <Modal
        open={open}
        title="New size"
        footer={null}
        onCancel={() => setOpen(false)}
        afterClose={() => add.reset()}
        destroyOnHidden
      >
        <Form<Typed>
          layout="vertical"
          className="panel-form"
          initialValues={{ diameter: "", size: "", count: 0, least: 0, place: "" }}
          onFinish={(body) => add.mutate(body)}
        >
          <Form.Item name="size" label="Thickness by micrometer, mm" rules={wanted}>
            <Figure maxLength={20} autoFocus />
          </Form.Item>
          <Form.Item name="diameter" label="Across, mm" rules={wanted}>
            <Figure maxLength={20} />
          </Form.Item>
          <Form.Item name="count" label="How many lie there">
            <InputNumber min={0} max={500} precision={0} />
          </Form.Item>
          <Form.Item name="least" label="How many should at least">
            <InputNumber min={0} max={10_000} precision={0} />
          </Form.Item>
          <Form.Item name="place" label="Place">
            <Input maxLength={80} placeholder="drawer 2" />
          </Form.Item>
          <Problem error={add.error} intro="That size was not added" />
          <PanelWays does="Add size" pending={add.isPending} onClose={() => setOpen(false)} />
        </Form>
      </Modal>
    </>
  );
}
