/** The instructor has the last word on a mark: how it counts, and why, kept beside the rules' own. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Form, Input, Modal, Radio } from "antd";
import { useId, useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { handInQuery } from "../api/queries";
import { Problem } from "../kit/Problem";
import "./marking.css";

type Marks = Schemas["ValveMarksOut"];
type Wish = { part: string; counts: "right" | "wrong"; reason: string };

const COUNTS = [
  { value: "right", label: "Count it right" },
  { value: "wrong", label: "Count it wrong" },
];
const MOST = 300;

export function OverrideButton({ marks, onOpen }: { marks: Marks; onOpen: () => void }) {
  return (
    <Button className="override" onClick={onOpen}>
      Override mark<span className="visually-hidden"> of valve {marks.valve}</span>
    </Button>
  );
}

type Props = { handInId: number; marks: Marks | null; onClose: () => void };

export function OverrideMark({ handInId, marks, onClose }: Props) {
  const formId = useId();
  const override = useOverride(handInId, onClose);
  return (
    <Modal
      open={marks !== null}
      title={`Valve ${marks?.valve}: override a mark`}
      onCancel={onClose}
      okText="Override mark"
      cancelText="Leave it as it is"
      okButtonProps={{ htmlType: "submit", form: formId, loading: override.isPending }}
      destroyOnHidden
      afterClose={override.reset}
    >
      {marks && (
        <OverrideForm
          id={formId}
          marks={marks}
          onDone={(wish) => override.mutate({ valve: marks.valve, ...wish })}
        />
      )}
      <Problem error={override.error} />
    </Modal>
  );
}

function useOverride(handInId: number, onDone: () => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ counts, ...wish }: Wish & { valve: number }) =>
      unwrap(
        api.POST("/api/hand-ins/{hand_in_id}/decisions", {
          params: { path: { hand_in_id: handInId } },
          body: { ...wish, right: counts === "right" },
        }),
      ),
    onSuccess: (told) => {
      queries.setQueryData(handInQuery(handInId).queryKey, told);
      onDone();
    },
  });
}

type FormProps = { id: string; marks: Marks; onDone: (wish: Wish) => void };

function OverrideForm({ id, marks, onDone }: FormProps) {
  const likely = marks.marks.find((mark) => !mark.right) ?? marks.marks[0];
  const [part, setPart] = useState(likely?.part ?? "");
  const [counts, setCounts] = useState<Wish["counts"]>(likely?.right ? "wrong" : "right");
  const chosen = marks.marks.find((mark) => mark.part === part);
  return (
    <Form
      id={id}
      layout="vertical"
      className="panel-form"
      onFinish={({ reason }: { reason: string }) => onDone({ part, counts, reason })}
    >
      <Radio.Group
        name="part"
        aria-label="Which mark"
        optionType="button"
        options={marks.marks.map((mark) => ({ value: mark.part, label: mark.label }))}
        value={part}
        onChange={({ target }) => {
          setPart(target.value);
          const mark = marks.marks.find((one) => one.part === target.value);
          setCounts(mark?.right ? "wrong" : "right");
        }}
      />
      <p className="soft">{chosen?.says}</p>
      <Radio.Group
        name="counts"
        aria-label="How it counts"
        optionType="button"
        options={COUNTS}
        value={counts}
        onChange={({ target }) => setCounts(target.value)}
      />
      <Form.Item
        name="reason"
        label="Because"
        rules={[{ required: true, whitespace: true, message: "Give the reason" }]}
      >
        <Input.TextArea
          rows={3}
          maxLength={MOST}
          placeholder="Accepted at 0.01 over: the stand was warm."
        />
      </Form.Item>
      <p className="soft">
        Your name, the time and the reason are kept and shown to the student. The mark given by the
        rules stays on record.
      </p>
    </Form>
  );
}
