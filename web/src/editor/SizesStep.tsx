/** Sizes, the decompressor, and whatever else the manual says. */
import { SelectField, Step, TextField, TickField } from "./Fields";
import type { Change, Form } from "./form";

type Props = { form: Form; change: Change };

export function SizesStep({ form, change }: Props) {
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
      <Decompressor form={form} change={change} />
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

function Decompressor({ form, change }: Props) {
  const bump = (part: Partial<Form["bump"]>) => change({ bump: { ...form.bump, ...part } });
  return (
    <>
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
          <TextField
            label="only valves"
            path="$.decompressor.valves"
            short
            hint="empty: all of them"
            value={form.bump.valves}
            onChange={(valves) => bump({ valves })}
          />
        </>
      )}
    </>
  );
}
