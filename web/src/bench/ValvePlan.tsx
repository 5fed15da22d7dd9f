/**
 * The valves of an engine with many cylinders, seen from above: each its own number, as large as a
 * room reads it, with how far it is open. Ninety-six rockers side by side are read by nobody.
 */
import { type ReactNode, useMemo, useRef } from "react";
import { type Crank, useTold, useWords } from "./crank";
import { cylinderRuns, headGroups } from "./geometry";
import { segmentsAt, type Table, type Valve, valveNow, verdict } from "./lookup";
import "./valve-plan.css";

type Props = {
  table: Table;
  crank: Crank;
  /** Drawing only: what may be set is for the class to find out. */
  bare?: boolean;
  /** Where it is told what may be set, while the drawing turns elsewhere. */
  labelsDeg?: number | undefined;
  below?: ((valve: number) => ReactNode) | undefined;
};

export function ValvePlan({ table, crank, bare = false, labelsDeg, below }: Props) {
  const banks = useMemo(() => headGroups(table.engine), [table]);
  const places = useTold(crank, (_deg, cam) => segmentsAt(table, labelsDeg ?? cam).join());
  const settable = useMemo(() => {
    const lines = verdict(table, places.split(",").map(Number));
    return new Set(lines.filter((line) => line.settable).flatMap((line) => line.valves));
  }, [table, places]);
  return (
    <section className="card valve-row valve-plan" aria-label="Valve row">
      {banks.map((bank) => (
        <div key={bank.name} className="plan-bank">
          {bank.name && <p className="visually-hidden">{bank.name}</p>}
          {cylinderRuns(bank.valves).map((run) => {
            const valves = bank.valves.slice(run.from, run.to + 1);
            return (
              <div key={run.from} className="plan-cylinder">
                <p>
                  <span className="visually-hidden">cylinder </span>
                  {run.cylinder}
                </p>
                <ol className={valves.length > 3 ? "plan-valves square" : "plan-valves"}>
                  {valves.map((valve) => (
                    <PlanValve
                      key={valve.number}
                      table={table}
                      crank={crank}
                      valve={valve}
                      may={bare ? null : settable.has(valve.number)}
                      below={below}
                    />
                  ))}
                </ol>
              </div>
            );
          })}
        </div>
      ))}
    </section>
  );
}

type ValveProps = Pick<Props, "table" | "crank" | "below"> & {
  valve: Valve;
  /** null where it is not told. */
  may: boolean | null;
};

function PlanValve({ table, crank, valve, may, below }: ValveProps) {
  const open = useRef<HTMLElement>(null);
  const fullMm = table.engine.specs.find((spec) => spec.role === valve.role)?.lift_mm ?? 1;
  useWords(crank, (_deg, cam) => {
    const share = Math.min(1, valveNow(table, valve, cam).liftMm / fullMm);
    if (open.current) open.current.style.transform = `scaleY(${share.toFixed(2)})`;
  });
  return (
    <li className={`plan-valve ${valve.role}`} data-settable={may ?? undefined}>
      <i ref={open} aria-hidden="true" />
      <span className="visually-hidden">{`valve ${valve.number}, ${valve.role}, cylinder ${valve.cylinder}`}</span>
      <b aria-hidden="true">{valve.number}</b>
      {below?.(valve.number)}
    </li>
  );
}
