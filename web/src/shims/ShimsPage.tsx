/** Shims of one engine: the arithmetic, moving them between valves, the order, and the table. */

import { useMutation, useSuspenseQuery } from "@tanstack/react-query";
import { type FormEvent, useEffect, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { cycleQuery, shimTablesQuery } from "../api/queries";
import { BoardButton } from "../app/BoardButton";
import { Choice } from "../app/Choice";
import { Field } from "../app/Field";
import { sentence } from "../app/feedback";
import { PlateFacts } from "../app/PlateFacts";
import { useUnit } from "../app/session";
import { ShimResult } from "./ShimResult";
import { ShimTable } from "./ShimTable";
import "./shims.css";

const OPENING = ["fitted", "measured"] as const;
const CLOSING = ["closing_fitted", "closing_measured"] as const;
type FieldName = (typeof OPENING)[number] | (typeof CLOSING)[number];
type Typed = Record<number, Partial<Record<FieldName, string>>>;
const CALLED: Record<FieldName, string> = {
  fitted: "fitted",
  measured: "measured",
  closing_fitted: "closing shim fitted",
  closing_measured: "closing gap measured",
};
const PREFER = [
  { value: "middle", label: "middle of the spec" },
  { value: "loose", label: "rather loose" },
  { value: "tight", label: "rather tight" },
] as const;

export default function ShimsPage() {
  const { engineId = "" } = useParams();
  const [search] = useSearchParams();
  const id = Number(engineId);
  const version = Number(search.get("version")) || null;
  const { data: table } = useSuspenseQuery(cycleQuery(id, version));
  const { data: tables } = useSuspenseQuery(shimTablesQuery(id, version));
  const roles = new Set(tables.map((one) => one.role));
  const valves = table.engine.valves.filter((valve) => roles.has(valve.role));
  useEffect(() => {
    document.title = `${table.engine.name} · Shims · Edrix`;
  }, [table]);
  return (
    <article className="shims">
      <div className="place-head">
        <div>
          <h1>Shims</h1>
          <p>{table.engine.name}</p>
        </div>
        <span className="ways">
          <button type="button" className="button" onClick={() => window.print()}>
            Print
          </button>
          <a
            className="button"
            href={`/api/engines/${id}/shims.pdf${version ? `?version=${version}` : ""}`}
          >
            Table as PDF
          </a>
          <BoardButton />
          <Link className="button" to={`/bench/${id}`}>
            Bench
          </Link>
        </span>
      </div>
      <section className="card shim-plate">
        <PlateFacts engine={table.engine} />
      </section>
      <Measured engineId={id} version={version} valves={valves} tables={tables} />
      {tables.map((one) => (
        <ShimTable key={`${one.role} ${one.gap}`} table={one} />
      ))}
    </article>
  );
}

type MeasuredProps = {
  engineId: number;
  version: number | null;
  valves: Schemas["ValveOut"][];
  tables: Schemas["ShimTableOut"][];
};

function Measured({ engineId, version, valves, tables }: MeasuredProps) {
  const unit = useUnit();
  const [typed, setTyped] = useState<Typed>({});
  const [stock, setStock] = useState("");
  const [prefer, setPrefer] = useState<(typeof PREFER)[number]["value"]>("middle");
  const plan = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/engines/{engine_id}/shims", {
          params: { path: { engine_id: engineId }, query: version === null ? {} : { version } },
          body: {
            valves: valves
              .filter((valve) => Object.values(typed[valve.number] ?? {}).some(Boolean))
              .map((valve) => ({
                valve: valve.number,
                fitted: "",
                measured: "",
                closing_fitted: "",
                closing_measured: "",
                ...typed[valve.number],
              })),
            stock: stock.split(/[;\s]+/).filter(Boolean),
            unit,
            prefer,
          },
        }),
      ),
  });
  const write = (valve: number, field: FieldName, text: string) =>
    setTyped((before) => ({ ...before, [valve]: { ...before[valve], [field]: text } }));
  const pulledShut = new Set(tables.filter((one) => one.gap === "closing").map((one) => one.role));
  return (
    <form
      className="card measured"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        plan.mutate();
      }}
    >
      <h2>What was measured</h2>
      <p className="soft">
        new shim = fitted shim + measured gap − wanted gap. Too small a gap needs a thinner shim.
        Shims in mm, or as they are stamped; gaps in {unit}. A valve with a blank is left out.
        {pulledShut.size > 0 &&
          " Closing first: its shim moves where the valve rests, and so the opening gap too."}
      </p>
      <div className="shim-lines">
        {valves.map(({ number, role, cylinder }) => (
          <fieldset key={number} className={role}>
            <legend>
              Valve {number} <span className="soft">cyl. {cylinder}</span>
            </legend>
            {[...(pulledShut.has(role) ? CLOSING : []), ...OPENING].map((field) => (
              <label key={field}>
                {CALLED[field]}
                <Field
                  label={`${CALLED[field]} at valve ${number}`}
                  most={20}
                  value={typed[number]?.[field] ?? ""}
                  onChange={(text) => write(number, field, text)}
                />
              </label>
            ))}
          </fieldset>
        ))}
      </div>
      <div className="ways">
        <label className="stock">
          In stock
          <input
            className="figure-field figures"
            value={stock}
            maxLength={2000}
            placeholder="2.40 2.45 2.45"
            onChange={(event) => setStock(event.target.value)}
          />
        </label>
        <Choice label="Aim for" options={PREFER} value={prefer} onChoose={setPrefer} />
        <button type="submit" className="button main" disabled={plan.isPending}>
          Work it out
        </button>
      </div>
      {plan.isError && (
        <p className="notice" role="alert">
          {sentence(plan.error)}
        </p>
      )}
      {plan.data && <ShimResult plan={plan.data} valves={valves} tables={tables} />}
    </form>
  );
}
