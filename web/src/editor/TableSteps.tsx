/** What a manual gives in tables: marks, and the stops of its own chart. */
import { Rows, SelectField, Step, TextField } from "./Fields";
import type { Change, Form } from "./form";
import { NO_MARK } from "./opened";

type Props = { form: Form; change: Change };

const MEANINGS = [
  ["tdc", "top dead centre"],
  ["pair", "a pair at the top"],
  ["ignition", "ignition (pass by)"],
  ["pin", "timing pin"],
  ["stop", "a place to set valves"],
  ["other", "something else"],
] as const;

export function MarksStep({ form, change }: Props) {
  return (
    <Step
      title="6 Marks"
      about="Degrees of crank at which each lines up: 0 to 360 on the crank, 0 to 720 on the cam."
      words="mark, timing pin, firing TDC"
    >
      <Rows
        rows={form.marks}
        addSays="Add a mark"
        add={() => NO_MARK}
        nameOf={(mark) => `mark ${mark.label}`}
        onChange={(marks) => change({ marks })}
        show={(mark, index, part) => (
          <>
            <TextField
              label="Stamped"
              short
              path={`$.marks[${index}].label`}
              value={mark.label}
              onChange={(label) => part({ label })}
            />
            <TextField
              label="At"
              short
              numeric
              unit="°"
              path={`$.marks[${index}].deg`}
              value={mark.deg}
              onChange={(deg) => part({ deg })}
            />
            <SelectField
              label="On the"
              value={mark.on}
              options={[
                ["crank", "crank"],
                ["cam", "cam"],
              ]}
              onChange={(on) => part({ on })}
            />
            <SelectField
              label="Means"
              value={mark.means}
              options={MEANINGS}
              onChange={(means) => part({ means })}
            />
            <TextField
              label="Lines up with"
              path={`$.marks[${index}].pointer`}
              value={mark.pointer}
              onChange={(pointer) => part({ pointer })}
            />
            {mark.on === "crank" && (
              <TextField
                label="Serves cylinders"
                path={`$.marks[${index}].cylinders`}
                short
                value={mark.serves}
                onChange={(serves) => part({ serves })}
              />
            )}
            {mark.on === "cam" && (
              <TextField
                label="At o'clock"
                path={`$.marks[${index}].clock`}
                short
                numeric
                value={mark.clock}
                onChange={(clock) => part({ clock })}
              />
            )}
          </>
        )}
      />
    </Step>
  );
}

export function ChartStep({ form, change }: Props) {
  return (
    <Step
      title="7 The manual's table"
      about="If it has one: the stops, and the valves it sets at each. Edrix checks it."
    >
      <Rows
        rows={form.chart}
        addSays="Add a stop"
        add={() => ({ deg: "", valves: "" })}
        nameOf={(_, index) => `stop ${index + 1}`}
        onChange={(chart) => change({ chart })}
        show={(stop, index, part) => (
          <>
            <TextField
              label="Crank at"
              short
              numeric
              unit="°"
              path={`$.maker_chart[${index}].crank_deg`}
              value={stop.deg}
              onChange={(deg) => part({ deg })}
            />
            <TextField
              label="Set valves"
              path={`$.maker_chart[${index}].set`}
              value={stop.valves}
              onChange={(valves) => part({ valves })}
            />
          </>
        )}
      />
    </Step>
  );
}
