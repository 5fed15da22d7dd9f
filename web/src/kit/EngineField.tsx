/** An engine from the shelf, in a form: those put away are not offered. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Form, Select } from "antd";
import { enginesQuery } from "../api/queries";

export function EngineField({ wanted }: { wanted: string }) {
  const { data: engines } = useSuspenseQuery(enginesQuery);
  return (
    <Form.Item name="engine_id" label="Engine" rules={[{ required: true, message: wanted }]}>
      <Select
        placeholder="from the shelf"
        showSearch={{ optionFilterProp: "label" }}
        options={engines
          .filter((engine) => !engine.away)
          .map((engine) => ({ value: engine.id, label: engine.name }))}
      />
    </Form.Item>
  );
}
