/** Shims for several engines at once: measured valves in, moves, what the store gives, what to buy. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Select } from "antd";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { cycleQuery } from "../api/queries";
import { hallQuery } from "../api/workshop";
import { Badge } from "../app/Badge";
import { mm } from "../app/lengths";
import { type DataColumn, DataTable } from "../kit/DataTable";
import { Figure } from "../kit/Figure";
import { Problem } from "../kit/Problem";
import { type Stock, size } from "./words";

type Plan = Schemas["StorePlanOut"];
type Move = Plan["moves"][number];
type Row = { fitted: string; measured: string };
type Rows = Record<string, Row>;
const BLANK: Row = { fitted: "", measured: "" };

export function SwapPlan({ sizes }: { sizes: readonly Stock[] }) {
  const queries = useQueryClient();
  const { data: hall = [] } = useQuery(hallQuery);
  const diameters = [...new Set(sizes.map((stock) => String(Number(stock.diameter_mm))))];
  const [diameter, setDiameter] = useState<string | null>(null);
  const [chosen, setChosen] = useState<number[]>([]);
  const [rows, setRows] = useState<Rows>({});
  const across = diameter ?? diameters[0] ?? "";
  const body = { diameter: across, valves: seatsOf(rows, chosen) };
  const plan = useMutation({
    mutationFn: () => unwrap(api.POST("/api/store/plan", { body })),
  });
  const hold = useMutation({
    mutationFn: () => unwrap(api.POST("/api/store/hold", { body })),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.store }),
    onSuccess: () => plan.reset(),
  });
  const stands = hall.filter((stand) => stand.mine && !stand.away);
  const type = (key: string, change: Partial<Row>) => {
    plan.reset();
    hold.reset();
    setRows({ ...rows, [key]: { ...(rows[key] ?? BLANK), ...change } });
  };
  return (
    <div className="swap-plan">
      <div className="ways">
        <Select
          aria-label="Across, mm"
          value={across || null}
          placeholder="across"
          options={diameters.map((value) => ({ value, label: `${value} mm across` }))}
          onChange={setDiameter}
        />
        <Select
          mode="multiple"
          className="which-stands"
          aria-label="Stands"
          placeholder="which stands have their covers off"
          value={chosen}
          onChange={(next) => {
            plan.reset();
            setChosen(next);
          }}
          options={stands.map((stand) => ({
            value: stand.id,
            label: `${stand.name}, ${stand.engine_name}`,
          }))}
        />
      </div>
      {stands
        .filter((stand) => chosen.includes(stand.id))
        .map((stand) => (
          <Valves key={stand.id} stand={stand} rows={rows} onType={type} />
        ))}
      {chosen.length > 0 && (
        <Button
          type="primary"
          loading={plan.isPending}
          disabled={body.valves.length === 0}
          onClick={() => plan.mutate()}
        >
          Plan {body.valves.length} valves
        </Button>
      )}
      <Problem error={plan.error ?? hold.error} />
      {hold.isSuccess && (
        <Alert type="success" showIcon title="Held back. Book each as fitted under “Held back”." />
      )}
      {plan.data && (
        <Planned plan={plan.data} pending={hold.isPending} onHold={() => hold.mutate()} />
      )}
    </div>
  );
}

function seatsOf(rows: Rows, chosen: readonly number[]): Schemas["SeatIn"][] {
  return Object.entries(rows).flatMap(([key, row]) => {
    const [stand = 0, valve = 0] = key.split(" ").map(Number);
    if (!chosen.includes(stand) || (row.fitted + row.measured).trim() === "") return [];
    return [{ stand_id: stand, valve, ...row, unit: "mm" }];
  });
}

type ValvesProps = {
  stand: Schemas["HallStandOut"];
  rows: Rows;
  onType: (key: string, change: Partial<Row>) => void;
};

function Valves({ stand, rows, onType }: ValvesProps) {
  const { data: table } = useQuery(cycleQuery(stand.engine_id, stand.engine_version));
  return (
    <section className="card swap-valves" aria-label={`Valves of ${stand.name}`}>
      <h3>{stand.name}</h3>
      <div className="plan-lines">
        {table?.engine.valves.map(({ number, role }) => {
          const key = `${stand.id} ${number}`;
          const row = rows[key] ?? BLANK;
          return (
            <div key={number}>
              <Badge number={number} role={role} size={34} />
              <Figure
                aria-label={`Shim in valve ${number} of ${stand.name}`}
                placeholder="shim, mm"
                value={row.fitted}
                maxLength={20}
                onType={(fitted) => onType(key, { fitted })}
              />
              <Figure
                aria-label={`Gap of valve ${number} of ${stand.name}`}
                placeholder="gap, mm"
                value={row.measured}
                maxLength={20}
                onType={(measured) => onType(key, { measured })}
              />
            </div>
          );
        })}
      </div>
    </section>
  );
}

const SOURCES: Record<string, (move: Move) => string> = {
  keep: () => "stays",
  moved: (move) => `from ${move.from_stand}, valve ${move.from_valve}`,
  store: () => "from the store",
  buy: () => "to buy",
};

const COLUMNS: readonly DataColumn<Move>[] = [
  { title: "Stand", show: (move) => move.stand },
  { title: "Valve", right: true, show: (move) => <b className="figures">{move.valve}</b> },
  {
    title: "In it",
    right: true,
    show: (m) => <span className="figures">{size(m.fitted_mm)}</span>,
  },
  { title: "Fit", right: true, show: (m) => <b className="figures">{size(m.size_mm)}</b> },
  { title: "Where from", show: (move) => SOURCES[move.source]?.(move) ?? move.source },
  {
    title: "Gap then",
    right: true,
    show: (move) => (
      <span className="figures">
        {mm(Number(move.clearance_mm))}
        {!move.within && <b> out of spec</b>}
      </span>
    ),
  },
];

type PlannedProps = { plan: Plan; pending: boolean; onHold: () => void };

function Planned({ plan, pending, onHold }: PlannedProps) {
  const fromStore = plan.moves.filter((move) => move.source === "store").length;
  return (
    <section aria-label="The plan">
      {plan.warnings.map((words) => (
        <Alert key={words} type="warning" showIcon title={words} />
      ))}
      <DataTable
        label="The plan"
        rows={plan.moves}
        keyOf={(move) => `${move.stand_id} ${move.valve}`}
        columns={COLUMNS}
      />
      <p>
        {plan.buy_mm.length === 0
          ? "Nothing has to be bought."
          : `To buy: ${plan.buy_mm.map(size).join(", ")} mm.`}
      </p>
      {fromStore + plan.buy_mm.length > 0 && (
        <Button type="primary" loading={pending} onClick={onHold}>
          {[
            fromStore > 0 && `Hold ${fromStore} back in the store`,
            plan.buy_mm.length > 0 && `put ${plan.buy_mm.length} on the order list`,
          ]
            .filter(Boolean)
            .join(", ")}
        </Button>
      )}
    </section>
  );
}
