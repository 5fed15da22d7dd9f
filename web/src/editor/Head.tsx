/** The head from above: every valve where it lies, numbered or given its role by tapping. */
import { useState } from "react";
import { Badge } from "../app/Badge";
import { Choice } from "../app/Choice";
import { cylinderRuns } from "../bench/geometry";
import { banksOf, type Form, ROLES, renumbered, type ValveForm } from "./form";

type Props = { form: Form; onValves: (valves: ValveForm[]) => void };

export function Head({ form, onValves }: Props) {
  const [taps, setTaps] = useState<"number" | "role">("number");
  const [next, setNext] = useState(1);

  function tap(index: number) {
    const valve = form.valves[index];
    if (valve === undefined) return;
    if (taps === "number") {
      onValves(renumbered(form.valves, index, String(next)));
      setNext(next >= form.valves.length ? 1 : next + 1);
    } else {
      const role = ROLES[(ROLES.indexOf(valve.role) + 1) % ROLES.length] ?? "intake";
      onValves(form.valves.map((other, at) => (at === index ? { ...other, role } : other)));
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
          ]}
          value={taps}
          onChoose={(chosen) => {
            setTaps(chosen as typeof taps);
            setNext(1);
          }}
        />
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
                    aria-label={`valve ${valve.number}, cylinder ${valve.cylinder} ${valve.role}`}
                  >
                    <Badge number={Number(valve.number)} role={valve.role} size={38} />
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
