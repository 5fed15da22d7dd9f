/** The steps of the editor, in the order in which a manual's page gives them. */
import { Rows, SelectField, Step, TextField, TickField } from "./Fields";
import type { Form } from "./form";
import { AdjusterStep, ClearanceStep, TimingStep } from "./RoleSteps";

export type Change = (part: Partial<Form>) => void;
type Props = { form: Form; change: Change };

const LAYOUTS = [
  ["single", "single"],
  ["inline", "in line"],
  ["parallel-twin", "parallel twin"],
  ["vee", "vee"],
  ["flat", "flat"],
  ["other", "other"],
] as const;

export function ManualSteps({ form, change }: Props) {
  return (
    <>
      <EngineStep form={form} change={change} />
      <FiringStep form={form} change={change} />
      <ClearanceStep form={form} change={change} />
      <TimingStep form={form} change={change} />
      <AdjusterStep form={form} change={change} />
      <MarksStep form={form} change={change} />
      <ChartStep form={form} change={change} />
      <SizesStep form={form} change={change} />
    </>
  );
}

function EngineStep({ form, change }: Props) {
  return (
    <Step title="1 The engine" about="Its name, and how the cylinders lie, from the front.">
      <TextField
        label="Name"
        path="$.name"
        value={form.name}
        onChange={(name) => change({ name })}
      />
      <TextField
        label="Cylinders"
        path="$.cylinders"
        short
        numeric
        value={form.cylinders}
        onChange={(cylinders) => change({ cylinders })}
      />
      <SelectField
        label="Layout"
        path="$.layout"
        value={form.layout}
        options={LAYOUTS}
        onChange={(layout) => change({ layout })}
      />
      <TextField
        label="Banks"
        path="$.banks"
        hint="each from the front, with / between: 1 3 5 / 2 4 6"
        value={form.banks}
        onChange={(banks) => change({ banks })}
      />
      <TextField
        label="Valves of each cylinder"
        hint="I, E, B from the front; EI IE turns every second cylinder, EI / IE every second bank"
        value={form.head}
        onChange={(head) => change({ head })}
      />
    </Step>
  );
}

function FiringStep({ form, change }: Props) {
  return (
    <Step title="2 Firing and turning" about="The order on the plate, and how the crank is turned.">
      <TextField
        label="Firing order"
        path="$.firing_order"
        value={form.order}
        onChange={(order) => change({ order })}
      />
      <TickField
        label={`Fires evenly, every ${evenDeg(form.cylinders)}°`}
        value={form.even}
        onChange={(even) => change({ even })}
      />
      {!form.even && (
        <TextField
          label="Degrees from each firing to the next"
          path="$.firing_intervals_deg"
          hint="they add up to 720; a 180° twin has 180 540"
          value={form.intervals}
          onChange={(intervals) => change({ intervals })}
        />
      )}
      <SelectField
        label="Turns, seen from the front"
        value={form.rotation}
        options={[
          ["clockwise", "clockwise"],
          ["counterclockwise", "counterclockwise"],
        ]}
        onChange={(rotation) => change({ rotation })}
      />
      <TextField
        label="Turned with"
        path="$.turning.with"
        value={form.turnedWith}
        onChange={(turnedWith) => change({ turnedWith })}
      />
      <TextField
        label="Slack"
        path="$.turning.backlash_deg"
        short
        numeric
        unit="°"
        value={form.backlash}
        onChange={(backlash) => change({ backlash })}
      />
      <TickField
        label="May be turned back"
        value={form.reverseAllowed}
        onChange={(reverseAllowed) => change({ reverseAllowed })}
      />
    </Step>
  );
}

function evenDeg(cylinders: string): string {
  const count = Number(cylinders);
  return count > 0 ? (720 / count).toFixed(1).replace(/\.0$/, "") : "…";
}

const MEANINGS = [
  ["tdc", "top dead centre"],
  ["pair", "a pair at the top"],
  ["ignition", "ignition (pass by)"],
  ["pin", "timing pin"],
  ["other", "something else"],
] as const;

function MarksStep({ form, change }: Props) {
  return (
    <Step
      title="6 Marks"
      about="Degrees of crank at which each lines up: 0 to 360 on the crank, 0 to 720 on the cam."
    >
      <Rows
        rows={form.marks}
        addSays="Add a mark"
        add={() => ({ on: "crank", label: "T", deg: "0", means: "tdc" })}
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
          </>
        )}
      />
    </Step>
  );
}

function ChartStep({ form, change }: Props) {
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

function SizesStep({ form, change }: Props) {
  const bump = (part: Partial<Form["bump"]>) => change({ bump: { ...form.bump, ...part } });
  return (
    <Step
      title="8 Sizes, decompressor, notes"
      about="Stroke and rod give the piston heights. Leave out what the manual does not say."
    >
      {(["bore", "stroke", "rod"] as const).map((name) => (
        <TextField
          key={name}
          label={name === "rod" ? "Rod, eye to eye" : name === "bore" ? "Bore" : "Stroke"}
          path={`$.geometry.${name}_mm`}
          short
          numeric
          unit="mm"
          value={form[name]}
          onChange={(value) => change({ [name]: value })}
        />
      ))}
      <TickField
        label="Automatic decompressor"
        value={form.bump.on}
        onChange={(on) => bump({ on })}
      />
      {form.bump.on && (
        <>
          <SelectField
            label="It holds open the"
            path="$.decompressor.role"
            value={form.bump.role}
            options={[
              ["exhaust", "exhaust"],
              ["intake", "intake"],
            ]}
            onChange={(role) => bump({ role: role as Form["bump"]["role"] })}
          />
          <TextField
            label="from cycle angle"
            path="$.decompressor.opens_cycle_deg"
            short
            numeric
            unit="°"
            value={form.bump.opens}
            onChange={(opens) => bump({ opens })}
          />
          <TextField
            label="to"
            path="$.decompressor.closes_cycle_deg"
            short
            numeric
            unit="°"
            value={form.bump.closes}
            onChange={(closes) => bump({ closes })}
          />
          <TextField
            label="by"
            path="$.decompressor.lift_mm"
            short
            numeric
            unit="mm"
            value={form.bump.lift}
            onChange={(lift) => bump({ lift })}
          />
        </>
      )}
      <label className="edit-field wide">
        <span>Notes</span>
        <textarea
          className="field"
          rows={3}
          value={form.notes}
          onChange={(event) => change({ notes: event.target.value })}
        />
        <span className="edit-note">
          Write a spec as the plate prints it, in both units: 0.10 mm (4 thou). The pair is checked.
        </span>
      </label>
    </Step>
  );
}
