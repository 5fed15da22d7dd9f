/** A stand of the hall that this class begins to use, too. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Form, Modal, Select } from "antd";
import { useState } from "react";
import { api, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { hallQuery } from "../api/workshop";
import { usePerson } from "../app/session";
import { PanelWays } from "../kit/Panel";
import { Problem } from "../kit/Problem";

type Props = { classId: number; used: readonly number[] };

export function UseStand({ classId, used }: Props) {
  const person = usePerson();
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const { data: hall = [] } = useQuery({ ...hallQuery, enabled: open && person.may_teach });
  const use = useMutation({
    mutationFn: ({ stand_id }: { stand_id: number }) =>
      unwrap(
        api.PUT("/api/classes/{class_id}/stands/{stand_id}", {
          params: { path: { class_id: classId, stand_id } },
        }),
      ),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: keys.ofClass(classId, "stands") });
      queries.invalidateQueries({ queryKey: keys.stands });
      setOpen(false);
    },
  });
  if (!person.may_teach) return null;
  return (
    <>
      <Button onClick={() => setOpen(true)}>Use a stand of the hall</Button>
      <Modal
        open={open}
        title="Use a stand of the hall"
        footer={null}
        onCancel={() => setOpen(false)}
        destroyOnHidden
      >
        <Form
          layout="vertical"
          className="panel-form"
          onFinish={(chosen: { stand_id: number }) => use.mutate(chosen)}
        >
          <Form.Item
            name="stand_id"
            label="Stand"
            rules={[{ required: true, message: "Choose a stand" }]}
            extra="Its key and its logbook are shared by all classes that use it."
          >
            <Select
              placeholder="from the hall"
              showSearch={{ optionFilterProp: "label" }}
              options={hall
                .filter((stand) => !stand.away && !used.includes(stand.id))
                .map((stand) => ({
                  value: stand.id,
                  label: `${stand.name}, ${stand.engine_name}`,
                }))}
            />
          </Form.Item>
          <Problem error={use.error} />
          <PanelWays does="Use it" pending={use.isPending} onClose={() => setOpen(false)} />
        </Form>
      </Modal>
    </>
  );
}
