/** What the plate says: the engine, its firing order, and how the crank is turned. */
import { SelectField, Step, TextField, TickField } from "./Fields";
import type { Change, Form } from "./form";

type Props = { form: Form; change: Change };

const LAYOUTS = [
  ["single", "single"],
  ["inline", "in line"],
  ["parallel-twin", "parallel twin"],
  ["vee", "vee"],
  ["flat", "flat"],
  ["other", "other"],
] as const;

export function EngineStep({ form, change }: Props) {
  return (
    <Step
      title="1 The engine"
      about="Its name, and how the cylinders lie, from the front."
      words="valve"
    >
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

export function FiringStep({ form, change }: Props) {
  return (
    <Step
      title="2 Firing and turning"
      about="The order on the plate, and how the crank is turned."
      words="firing order, turning tool, slack"
    >
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
      {!form.reverseAllowed && (
        <TextField
          label="Why one way only"
          path="$.turning.why"
          value={form.why}
          onChange={(why) => change({ why })}
        />
      )}
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
