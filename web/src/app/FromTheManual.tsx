/** What the manual's page says besides: torques, parts, tools, interval, and its notes. */
import type { Schemas } from "../api/client";
import { useUnit } from "./session";
import { Words } from "./Words";
import "./from-the-manual.css";

type Facts = Pick<Schemas["EngineFacts"], "manual" | "notes">;
type Torque = Schemas["TorqueOut"];

/** open: all of it at once, as on paper. */
export function FromTheManual({ engine, open = false }: { engine: Facts; open?: boolean }) {
  const unit = useUnit();
  const { torques, parts, tools, interval, turned_one_way, shims, second_gap } = engine.manual;
  const lines: (readonly [string, string])[] = [
    ["two gaps", second_gap],
    ...torques.map((torque) => [torque.what, torqueWords(torque, unit)] as const),
    ...shims.map((words) => ["shims", words] as const),
    ["look again", interval],
    ["one way only", turned_one_way],
    ["parts", parts.join(", ")],
    ["tools", tools.join(", ")],
    ["notes", engine.notes],
  ];
  const told = lines.filter(([, says]) => says !== "");
  if (told.length === 0) return null;
  return (
    <details className="from-the-manual" open={open}>
      <summary>From the manual</summary>
      <dl>
        {told.map(([name, says]) => (
          <div key={name + says}>
            <dt>{name}</dt>
            <dd>
              <Words text={says} />
            </dd>
          </div>
        ))}
      </dl>
    </details>
  );
}

/** As the manual has it first, then in the reader's own other unit. */
function torqueWords(torque: Torque, unit: string): string {
  const all = {
    nm: `${plain(torque.nm)} N·m`,
    lb_ft: `${plain(torque.lb_ft)} lb·ft`,
    lb_in: `${plain(torque.lb_in)} lb·in`,
  };
  const first = torque.written_in as keyof typeof all;
  const other = first !== "nm" ? "nm" : torque.lb_ft < 10 ? "lb_in" : "lb_ft";
  return unit === "thou" && first === "nm"
    ? `${all[other]} (${all[first]})`
    : `${all[first]} (${all[other]})`;
}

function plain(figure: number): string {
  return figure >= 100 ? figure.toFixed(0) : String(Number(figure.toFixed(1)));
}
