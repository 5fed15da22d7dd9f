/** When a sheet opens and closes, by the school's clock. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Form, Input, Modal } from "antd";
import { useState } from "react";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { forField } from "../app/school";
import { PanelWays } from "../kit/Panel";
import { Problem } from "../kit/Problem";

type Sheet = Schemas["SheetRow"];

export function changeSheet(sheetId: number, body: Schemas["SheetChanges"]) {
  const place = { params: { path: { sheet_id: sheetId } } };
  return unwrap(api.PATCH("/api/sheets/{sheet_id}", { ...place, body }));
}

export function SheetTimes({ sheet, onClose }: { sheet: Sheet | null; onClose: () => void }) {
  return (
    <Modal
      open={sheet !== null}
      title={`When ${sheet?.title ?? ""} is open`}
      footer={null}
      onCancel={onClose}
      destroyOnHidden
    >
      {sheet && <Times sheet={sheet} onClose={onClose} />}
    </Modal>
  );
}

function Times({ sheet, onClose }: { sheet: Sheet; onClose: () => void }) {
  const queries = useQueryClient();
  const [opens, setOpens] = useState(forField(sheet.opens_at));
  const [closes, setCloses] = useState(forField(sheet.closes_at));
  const change = useMutation({
    mutationFn: () => changeSheet(sheet.id, { opens_at: opens || null, closes_at: closes || null }),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: keys.classes });
      onClose();
    },
  });
  const faults = change.error instanceof ApiProblem ? change.error.fields : [];
  const faultOf = (field: string) => {
    const fault = faults.find(({ path }) => path === field)?.problem;
    return fault ? { help: fault, validateStatus: "error" as const } : {};
  };
  return (
    <Form layout="vertical" className="panel-form" onFinish={() => change.mutate()}>
      <Form.Item
        label="Opens"
        htmlFor="opens"
        extra="Blank: at once. Before, students do not see it."
        {...faultOf("opens_at")}
      >
        <Input
          id="opens"
          type="datetime-local"
          value={opens}
          onChange={(event) => setOpens(event.target.value)}
        />
      </Form.Item>
      <Form.Item
        label="Due, and closes"
        htmlFor="closes"
        extra="Blank: stays open. After, nobody hands in by themselves; what they wrote is kept, and you can open it again."
        {...faultOf("closes_at")}
      >
        <Input
          id="closes"
          type="datetime-local"
          value={closes}
          onChange={(event) => setCloses(event.target.value)}
        />
      </Form.Item>
      {faults.length === 0 && <Problem error={change.error} />}
      <PanelWays does="Set the times" pending={change.isPending} onClose={onClose} />
    </Form>
  );
}
