/** A button that opens a small form for something new: its name, and perhaps one thing more. */
import { useMutation } from "@tanstack/react-query";
import { Button, Form, Input, Modal } from "antd";
import { type ReactNode, useState } from "react";
import { PanelWays } from "./Panel";
import { Problem } from "./Problem";

type Props<Body, Made> = {
  /** On the button, and over the form. */
  title: string;
  /** On the button that makes it. */
  does: string;
  /** What is wanted where the name is blank. */
  wanted: string;
  placeholder?: string;
  maxLength: number;
  make: (body: Body) => Promise<Made>;
  onMade: (made: Made) => void;
  /** Fields besides the name. */
  children?: ReactNode;
};

export function NewNamed<Body extends { name: string }, Made>(props: Props<Body, Made>) {
  const { title, does, wanted, placeholder = "", maxLength, make, onMade, children } = props;
  const [open, setOpen] = useState(false);
  const create = useMutation({
    mutationFn: make,
    onSuccess: (made) => {
      setOpen(false);
      onMade(made);
    },
  });
  return (
    <>
      <Button type="primary" onClick={() => setOpen(true)}>
        {title}
      </Button>
      <Modal
        open={open}
        title={title}
        footer={null}
        onCancel={() => setOpen(false)}
        destroyOnHidden
      >
        <Form
          layout="vertical"
          className="panel-form"
          onFinish={(body: Body) => create.mutate(body)}
        >
          <Form.Item
            name="name"
            label="Name"
            rules={[{ required: true, whitespace: true, message: wanted }]}
          >
            <Input maxLength={maxLength} placeholder={placeholder} autoFocus />
          </Form.Item>
          {children}
          <Problem error={create.error} />
          <PanelWays does={does} pending={create.isPending} onClose={() => setOpen(false)} />
        </Form>
      </Modal>
    </>
  );
}
