/** Reading sheets of a class: setting one, and how far each is. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Button, Checkbox, Form, Input, Select } from "antd";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { classSheetsQuery, standsQuery } from "../api/queries";
import { Empty, sentence } from "../app/feedback";
import { ListTable } from "../app/ListTable";
import { mm, thou } from "../app/lengths";
import { useUnit } from "../app/session";
import { SCHOOLS, schoolName } from "../routecard/schools";

export function SheetsTab({ classId }: { classId: number }) {
  const { data: sheets } = useSuspenseQuery(classSheetsQuery(classId));
  return (
    <div className="tab">
      <SetSheet classId={classId} />
      {sheets.length === 0 ? (
        <Empty title="No sheet set yet">Choose a stand above; its key must be entered first.</Empty>
      ) : (
        <ListTable
          label="Reading sheets"
          rows={sheets}
          keyOf={(sheet) => sheet.id}
          columns={[
            { title: "Sheet", show: (s) => <Link to={`/board/${s.id}`}>{s.title}</Link> },
            { title: "Stand", show: (s) => `${s.stand}, key ${s.key_number}` },
            { title: "School", show: (s) => schoolName(s.method) },
            {
              title: "Tolerance",
              show: (s) => <span className="figures">±{mm(Number(s.tolerance_mm))}</span>,
            },
            { title: "Handed in", right: true, show: (s) => s.handed_in },
            {
              title: "Card",
              right: true,
              show: (s) => (
                <Link
                  className="button"
                  to={`/route/${s.engine_id}?method=${s.method}&version=${s.engine_version}&sheet=${s.id}&qr=yes`}
                >
                  Route card
                </Link>
              ),
            },
          ]}
        />
      )}
    </div>
  );
}

const ASKS = [
  { value: "second", label: "a second pass" },
  { value: "nut", label: "the gap before and after the lock nut" },
  { value: "shims", label: "the shim fitted and the one to fit" },
];

function SetSheet({ classId }: { classId: number }) {
  const queries = useQueryClient();
  const unit = useUnit();
  const { data: stands } = useSuspenseQuery(standsQuery(classId));
  const [form] = Form.useForm();
  const set = useMutation({
    mutationFn: (body: Schemas["NewSheetIn"]) =>
      unwrap(
        api.POST("/api/classes/{class_id}/sheets", {
          params: { path: { class_id: classId } },
          body: { ...body, tolerance_unit: unit },
        }),
      ),
    onSuccess: () => {
      form.resetFields();
      queries.invalidateQueries(classSheetsQuery(classId));
    },
  });
  const usual = unit === "mm" ? "0.03" : "1";
  return (
    <Form
      form={form}
      layout="vertical"
      className="card set-sheet"
      initialValues={{ method: "two-stop", tolerance: usual }}
      onFinish={(body) => set.mutate(body)}
    >
      <Form.Item
        name="title"
        label="Title"
        rules={[{ required: true, whitespace: true, message: "Give the sheet a title" }]}
      >
        <Input maxLength={120} placeholder="First measuring" />
      </Form.Item>
      <Form.Item
        name="stand_id"
        label="Stand"
        rules={[{ required: true, message: "Choose a stand" }]}
      >
        <Select
          placeholder="with a key"
          options={stands.map((stand) => ({
            value: stand.id,
            label: stand.key ? `${stand.name}, ${stand.engine_name}` : `${stand.name} (no key yet)`,
            disabled: stand.key === null,
          }))}
        />
      </Form.Item>
      <Form.Item name="method" label="Stops by">
        <Select options={SCHOOLS.map((s) => ({ value: s.method, label: s.name }))} />
      </Form.Item>
      <Form.Item
        name="tolerance"
        label={`Readings count within ± (${unit})`}
        extra={unit === "mm" ? `0.03 mm is ${thou(0.03)}` : `1 thou is ${mm(0.0254)}`}
        rules={[{ required: true, message: "Give a tolerance" }]}
      >
        <Input inputMode="decimal" maxLength={20} className="figures" suffix={unit} />
      </Form.Item>
      <Form.Item
        name="gauge"
        label={`The gauges tell a gap to ± (${unit})`}
        extra="nearer to a limit, “can't tell” is right too; blank: it always can be told"
      >
        <Input inputMode="decimal" maxLength={20} className="figures" suffix={unit} />
      </Form.Item>
      <Form.Item name="asks" label="Ask for more" className="asks">
        <Checkbox.Group options={ASKS} />
      </Form.Item>
      {set.isError && (
        <p className="notice" role="alert">
          {sentence(set.error)}
        </p>
      )}
      <Button type="primary" htmlType="submit" loading={set.isPending}>
        Set this sheet
      </Button>
    </Form>
  );
}
