/** Signing a skill off, or withdrawing it: the instructor's name, the time and a note are kept. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Form, Input, Modal } from "antd";
import { useId } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { progressQuery } from "../api/queries";
import { Problem } from "../kit/Problem";

const MOST = 200;

type Props = {
  told: Schemas["ProgressOut"];
  skill: Schemas["SkillOut"] | null;
  onClose: () => void;
};

export function SignOff({ told, skill, onClose }: Props) {
  const formId = useId();
  const signs = skill?.signed === null;
  const sign = useSignOff(told, onClose);
  return (
    <Modal
      open={skill !== null}
      title={`${signs ? "Sign off" : "Withdraw sign-off"}: ${skill?.label ?? ""}`}
      okText={signs ? "Sign off" : "Withdraw"}
      cancelText="Not now"
      okButtonProps={{ htmlType: "submit", form: formId, loading: sign.isPending }}
      onCancel={onClose}
      afterClose={sign.reset}
      destroyOnHidden
    >
      {skill && (
        <Form
          id={formId}
          layout="vertical"
          className="panel-form"
          initialValues={{ note: "" }}
          onFinish={({ note }: { note: string }) =>
            sign.mutate({ skill: skill.skill, signed: signs, note })
          }
        >
          <p className="soft">
            {told.student}: {skill.says}. Your name and the time are kept and shown to the student.
          </p>
          <Form.Item name="note" label="Note">
            <Input.TextArea rows={2} maxLength={MOST} placeholder="Seen at stand 3, by hand." />
          </Form.Item>
          <Problem error={sign.error} />
        </Form>
      )}
    </Modal>
  );
}

function useSignOff(told: Schemas["ProgressOut"], onDone: () => void) {
  const queries = useQueryClient();
  const path = { class_id: told.class_id, student_id: told.student_id };
  return useMutation({
    mutationFn: (body: Schemas["SignOffIn"]) =>
      unwrap(
        api.POST("/api/classes/{class_id}/students/{student_id}/sign-offs", {
          params: { path },
          body,
        }),
      ),
    onSuccess: (now) => {
      queries.setQueryData(progressQuery(told.class_id, told.student_id).queryKey, now);
      onDone();
    },
  });
}
