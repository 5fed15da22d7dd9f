/** Writing in the log: what was done, when, at which reading of the meter, and the gaps. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Checkbox, Form, Input, Radio, Select } from "antd";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { cycleQuery } from "../api/queries";
import { Badge } from "../app/Badge";
import { forField } from "../app/school";
import { useUnit } from "../app/session";
import { Figure } from "../kit/Figure";
import { Panel, PanelWays } from "../kit/Panel";
import { Problem } from "../kit/Problem";
import { type HallStand, KINDS, type LogEntry, onMeter, WRITTEN } from "./words";

type Props = {
  stand: HallStand;
  open: boolean;
  /** The entry that this one mends. */
  corrects: LogEntry | null;
  onClose: () => void;
};
type Row = { found: string; left: string; shim: string; reason: string };
type Typed = { what: string; at: string; meter: string; cold: boolean; by: string; note: string };
const BLANK: Row = { found: "", left: "", shim: "", reason: "" };

export function LogForm({ stand, open, corrects, onClose }: Props) {
  const [touched, setTouched] = useState(false);
  return (
    <Panel
      wide
      open={open}
      typed={touched}
      title={corrects ? "Correct an entry" : `Write in the log of ${stand.name}`}
      onClose={() => {
        setTouched(false);
        onClose();
      }}
    >
      <EntryForm
        stand={stand}
        corrects={corrects}
        onTouch={() => setTouched(true)}
        onDone={() => {
          setTouched(false);
          onClose();
        }}
      />
    </Panel>
  );
}

type FormProps = {
  stand: HallStand;
  corrects: LogEntry | null;
  onTouch: () => void;
  onDone: () => void;
};

function EntryForm({ stand, corrects, onTouch, onDone }: FormProps) {
  const queries = useQueryClient();
  const ownUnit = useUnit();
  const [unit, setUnit] = useState<"mm" | "thou">(ownUnit);
  const [rows, setRows] = useState<Record<number, Row>>(() => rowsOf(corrects));
  const { data: table } = useQuery(cycleQuery(stand.engine_id, stand.engine_version));
  const save = useMutation({
    mutationFn: (typed: Typed) => {
      const gaps: Schemas["LogGapIn"][] = Object.entries(rows)
        .filter(([, row]) => row.found + row.left + row.shim !== "")
        .map(([valve, row]) => ({ valve: Number(valve), ...row, unit }));
      const body = { ...typed, at: typed.at || null, gaps, corrects: corrects?.id ?? null };
      return unwrap(
        api.POST("/api/stands/{stand_id}/log", {
          params: { path: { stand_id: stand.id } },
          body,
        }),
      );
    },
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: keys.stands });
      onDone();
    },
  });
  const type = (valve: number, change: Partial<Row>) => {
    onTouch();
    setRows({ ...rows, [valve]: { ...(rows[valve] ?? BLANK), ...change } });
  };
  return (
    <Form<Typed>
      layout="vertical"
      className="panel-form log-form"
      initialValues={firstOf(corrects)}
      onValuesChange={onTouch}
      onFinish={(typed) => save.mutate(typed)}
    >
      {corrects && (
        <p className="soft">
          The entry stays where it is, and this one takes its place: in the log, and in the trend.
        </p>
      )}
      <div className="side-by-side">
        <Form.Item name="what" label="What was done">
          <Select options={WRITTEN.map((value) => ({ value, label: KINDS[value] }))} />
        </Form.Item>
        <Form.Item name="at" label="When" extra="Blank is now.">
          <Input type="datetime-local" />
        </Form.Item>
        <Form.Item
          name="meter"
          label={`Meter, ${stand.meter_unit}`}
          extra={
            stand.meter === null ? undefined : `Last ${onMeter(stand.meter, stand.meter_unit)}.`
          }
        >
          <Figure maxLength={20} />
        </Form.Item>
        <Form.Item name="by" label="By whom" extra="Blank is you.">
          <Input maxLength={200} />
        </Form.Item>
      </div>
      <Form.Item name="cold" valuePropName="checked">
        <Checkbox>The engine was cold</Checkbox>
      </Form.Item>
      <Form.Item name="note" label="Note">
        <Input.TextArea maxLength={500} autoSize={{ minRows: 2 }} />
      </Form.Item>
      <Radio.Group
        aria-label="Unit of the gaps"
        value={unit}
        optionType="button"
        options={["mm", "thou"]}
        onChange={(event) => setUnit(event.target.value)}
      />
      <div className="log-lines">
        <span />
        <span className="soft">found</span>
        <span className="soft">left at</span>
        <span className="soft">shim in it</span>
        <span className="soft log-reason-head">reason to leave it</span>
        {table?.engine.valves.map(({ number, role }) => {
          const row = rows[number] ?? BLANK;
          return [
            <Badge key={`b${number}`} number={number} role={role} size={34} />,
            ...(["found", "left", "shim"] as const).map((name) => (
              <Figure
                key={`${name}${number}`}
                aria-label={`${LABELS[name]} valve ${number}`}
                value={row[name]}
                onType={(typed) => type(number, { [name]: typed })}
              />
            )),
            <input
              key={`reason${number}`}
              className="field log-reason"
              aria-label={`Reason to leave valve ${number} out of its spec`}
              maxLength={120}
              value={row.reason}
              onChange={(event) => type(number, { reason: event.target.value })}
            />,
          ];
        })}
      </div>
      <Problem error={save.error} intro="The entry was not kept" />
      <PanelWays
        does={corrects ? "Keep the correction" : "Keep the entry"}
        pending={save.isPending}
        onClose={onDone}
      />
    </Form>
  );
}

const LABELS = { found: "Gap found at", left: "Gap left at", shim: "Shim in" };

function firstOf(corrects: LogEntry | null): Typed {
  if (corrects === null) {
    return { what: "measured", at: "", meter: "", cold: true, by: "", note: "" };
  }
  return {
    what: WRITTEN.includes(corrects.what) ? corrects.what : "measured",
    at: forField(corrects.at),
    meter: corrects.meter ?? "",
    cold: corrects.cold ?? false,
    by: corrects.by,
    note: corrects.note,
  };
}

function rowsOf(corrects: LogEntry | null): Record<number, Row> {
  return Object.fromEntries(
    (corrects?.gaps ?? []).map((gap) => [
      gap.valve,
      {
        found: gap.found_typed,
        left: gap.left_typed,
        shim: gap.shim_mm === null ? "" : `${Number(gap.shim_mm)} mm`,
        reason: gap.reason,
      },
    ]),
  );
}
