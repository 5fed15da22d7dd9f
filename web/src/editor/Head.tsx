/** The head from above: every valve where it lies, numbered or given its role by tapping. */
import { useState } from "react";
import { Badge } from "../app/Badge";
import { Choice } from "../app/Choice";
import { cylinderRuns } from "../bench/geometry";
import { banksOf, type Form, ROLES, renumbered, type ValveForm } from "./form";

type Props = { form: Form; onValves: (valves: ValveForm[]) => void };

export function Head({ form, onValves }: Props) {
  const [taps, setTaps] = useState<"number" | "role" | "name">("number");
  const [next, setNext] = useState(1);
  const [name, setName] = useState("left");
  const change = (index: number, part: Partial<ValveForm>) =>
    onValves(form.valves.map((other, at) => (at === index ? { ...other, ...part } : other)));

  function tap(index: number) {
    const valve = form.valves[index];
    if (valve === undefined) return;
    if (taps === "number") {
      onValves(renumbered(form.valves, index, String(next)));
      setNext(next >= form.valves.length ? 1 : next + 1);
    } else if (taps === "name") {
      change(index, { label: valve.label === name.trim() ? "" : name.trim() });
    } else {
      const role = ROLES[(ROLES.indexOf(valve.role) + 1) % ROLES.length] ?? "intake";
      change(index, { role });
    }
  }

  return (
    <section className="card edit-head" aria-label="The head from above">
      <header>
        <h2>The head, front at the left</h2>
        <Choice
          label="Tapping a valve"
          options={[
            { value: "number", label: `gives it number ${next}` },
            { value: "role", label: "changes its role" },
            { value: "name", label: "labels it" },
          ]}
          value={taps}
          onChoose={(chosen) => {
            setTaps(chosen as typeof taps);
            setNext(1);
          }}
        />
        {taps === "name" && (
          <label className="head-name">
            as{" "}
            <input
              className="field"
              value={name}
              maxLength={20}
              onChange={(event) => setName(event.target.value)}
            />
          </label>
        )}
      </header>
      {byBank(form).map((bank) => (
        <div key={bank[0]?.index} className="head-bank">
          {cylinderRuns(bank.map(({ valve }) => valve)).map((run) => (
            <div key={`${run.cylinder} ${run.from}`} className="head-cylinder">
              <span>{run.cylinder}</span>
              <div>
                {bank.slice(run.from, run.to + 1).map(({ valve, index }) => (
                  <button
                    key={index}
                    type="button"
                    className="head-valve"
                    onClick={() => tap(index)}
                    aria-label={`valve ${valve.number}${valve.label && ` ${valve.label}`}, cylinder ${valve.cylinder} ${valve.role}`}
                  >
                    <Badge number={Number(valve.number)} role={valve.role} size={38} />
                    {valve.label && <small>{valve.label}</small>}
                  </button>
                ))}
              </div>
            </div>
          ))}
        </div>
      ))}
      {form.valves.length === 0 && (
        <p className="soft">No valves yet: say in step 1 what lies where.</p>
      )}
    </section>
  );
}

/** The valves of each bank with their place in the file; those of no bank come last. */
function byBank(form: Form): { valve: ValveForm; index: number }[][] {
  const placed = form.valves.map((valve, index) => ({ valve, index }));
  const banks = banksOf(form.banks);
  const inBanks = banks.map((bank) => placed.filter(({ valve }) => bank.includes(valve.cylinder)));
  const others = placed.filter(({ valve }) => !banks.some((b) => b.includes(valve.cylinder)));
  return [...inBanks, others].filter((group) => group.length > 0);
}
