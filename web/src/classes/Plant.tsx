/** Planted faults, one after another: what, and on which valve. */
import { useQuery } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { cycleQuery } from "../api/queries";
import { FAULTS, WHOLE_ENGINE } from "../app/practice-words";

export type Fault = Schemas["FaultIn"];
type Props = { engineId: number; faults: Fault[]; onFaults: (faults: Fault[]) => void };

type Facts = Pick<Schemas["EngineFacts"], "specs" | "trains">;

/** Those that this engine can have, as far as its specs tell; the server knows the rest. */
function kindsFor({ specs, trains }: Facts) {
  const gears = Object.values(trains);
  const left = new Set([
    ...(specs.some((spec) => spec.closing) ? [] : ["wrong-closing"]),
    ...(specs.some((spec) => spec.running) ? [] : ["worn-brake"]),
    ...(gears.some((gear) => gear.push.startsWith("Press")) ? [] : ["rod-slack"]),
    ...(gears.some((gear) => gear.push.startsWith("Lift")) ? [] : ["hanging-follower"]),
  ]);
  return Object.entries(FAULTS)
    .filter(([value]) => !left.has(value))
    .map(([value, label]) => ({ value, label }));
}

export function Plant({ engineId, faults, onFaults }: Props) {
  const { data: table } = useQuery(cycleQuery(engineId, null));
  const [kind, setKind] = useState<Fault["kind"]>("wrong-setting");
  const add = (fault: Fault) => {
    const known = faults.some((one) => one.kind === fault.kind && one.valve === fault.valve);
    if (!known) onFaults([...faults, fault]);
  };
  return (
    <fieldset className="plant">
      <legend>Planted faults</legend>
      <div className="plant-line">
        <Select
          aria-label="Fault"
          value={kind}
          onChange={(now) => {
            // A fault of the whole engine needs no valve; the choice after it is the usual one.
            if (WHOLE_ENGINE.has(now)) add({ kind: now, valve: null });
            else setKind(now);
          }}
          options={
            kindsFor(table?.engine ?? { specs: [], trains: {} }) as {
              value: Fault["kind"];
              label: string;
            }[]
          }
        />
        <Select
          aria-label="On valve"
          placeholder="choose its valve"
          loading={table === undefined}
          showSearch={{ optionFilterProp: "label" }}
          value={null}
          onChange={(valve) => add({ kind, valve })}
          options={(table?.engine.valves ?? []).map((one) => ({
            value: one.number,
            label: `${one.number}, ${one.role}, cylinder ${one.cylinder}`,
          }))}
        />
      </div>
      <p className="soft" role="status">
        {faults.length === 0 ? "None yet: a fault is planted as soon as its valve is chosen." : ""}
      </p>
      <ul>
        {faults.map((fault, place) => (
          <li key={`${fault.kind} ${fault.valve}`}>
            {FAULTS[fault.kind]}
            {fault.valve && `, valve ${fault.valve}`}{" "}
            <Button
              size="small"
              aria-label={`Take out ${FAULTS[fault.kind]}`}
              onClick={() => onFaults(faults.filter((_, other) => other !== place))}
            >
              Take out
            </Button>
          </li>
        ))}
      </ul>
    </fieldset>
  );
}
