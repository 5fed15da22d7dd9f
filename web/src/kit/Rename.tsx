/** A pencil beside a name: a typing mistake is put right where it is seen. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Form, Input, Modal } from "antd";
import { type ReactNode, useState } from "react";
import { ApiProblem } from "../api/client";
import { keys } from "../api/keys";
import { Problem } from "./Problem";

type Props = {
  name: string;
  maxLength: number;
  save: (name: string) => Promise<unknown>;
  /** Said below the field: what else the new name changes, or does not. */
  about?: string | undefined;
  /** Words on the button; without them it is a pencil. */
  children?: ReactNode;
};

export function Rename({ children, ...what }: Props) {
  const [open, setOpen] = useState(false);
  const { name } = what;
  return (
    <>
      <Button
        type={children ? "default" : "text"}
        aria-label={`Rename ${name}`}
        title={children ? undefined : "Rename"}
        onClick={() => setOpen(true)}
      >
        {children ?? <Pencil />}
      </Button>
      <RenameDialog {...what} open={open} onClose={() => setOpen(false)} />
    </>
  );
}

type DialogProps = FormProps & { open: boolean };

/** The same, opened from elsewhere: a menu of what can be done. */
export function RenameDialog({ open, ...form }: DialogProps) {
  return (
    <Modal
      open={open}
      title={`Rename ${form.name}`}
      onCancel={form.onClose}
      footer={null}
      destroyOnHidden
    >
      <NameForm {...form} />
    </Modal>
  );
}

/** A name as it is shown in a list, with its pencil. */
export function Named({ children, ...rename }: Props) {
  return (
    <span className="named">
      {children}
      <Rename {...rename} />
    </span>
  );
}

type FormProps = Omit<Props, "children"> & { onClose: () => void };

function NameForm({ name, maxLength, save, about, onClose }: FormProps) {
  const queries = useQueryClient();
  const [typed, setTyped] = useState(name);
  const change = useMutation({
    mutationFn: () => save(typed),
    onSuccess: () => {
      // A name stands in many places: lists, boards, headings.
      for (const key of [
        keys.classes,
        keys.engines,
        keys.sheets,
        keys.handIns,
        keys.stands,
        keys.work,
      ])
        queries.invalidateQueries({ queryKey: key });
      onClose();
    },
  });
  const fault = change.error instanceof ApiProblem ? change.error.fields[0]?.problem : undefined;
  return (
    <Form layout="vertical" className="panel-form" onFinish={() => change.mutate()}>
      <Form.Item
        label="New name"
        htmlFor="new-name"
        extra={about}
        {...(fault ? { help: fault, validateStatus: "error" as const } : {})}
      >
        <Input
          id="new-name"
          autoFocus
          value={typed}
          maxLength={maxLength}
          onFocus={(event) => event.target.select()}
          onChange={(event) => setTyped(event.target.value)}
        />
      </Form.Item>
      {!fault && <Problem error={change.error} />}
      <div className="dialog-ways">
        <Button type="primary" htmlType="submit" loading={change.isPending}>
          Rename
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </div>
    </Form>
  );
}

function Pencil() {
  return (
    <svg viewBox="0 0 20 20" width="16" height="16" aria-hidden="true" fill="none">
      <path d="M3 17l1-4L14 3l3 3L7 16z" stroke="currentColor" strokeWidth="1.5" />
      <path d="M12 5l3 3" stroke="currentColor" strokeWidth="1.5" />
    </svg>
  );
}
