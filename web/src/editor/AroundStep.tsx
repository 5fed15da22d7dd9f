/** What the manual says around the clearances: valve train, ignition, torques, parts, tools. */

import { TORQUE_UNITS, type TorqueForm } from "./around";
import { Rows, SelectField, Step, TextField, TickField } from "./Fields";
import { type Change, type Form, type Role, rolesUsed } from "./form";

type Props = { form: Form; change: Change };

const TRAINS = [
  ["", "as the adjuster lets expect"],
  ["pushrod-rocker", "push rods and rockers"],
  ["overhead-rocker", "overhead cam, rockers"],
  ["finger", "overhead cam, fingers"],
  ["bucket", "overhead cam, buckets"],
  ["side-valve", "side valves, tappets"],
  ["positive-closing", "positive closing"],
] as const;
const STARTS = ["electric", "hand", "air", "spring"] as const;

export function AroundStep({ form, change }: Props) {
  return (
    <Step
      title="9 Valve train, ignition, torques, parts"
      about="What may be felt and looked at, and the lists before and after, follow from these."
      words="push rod, rocker, finger, bucket, torque"
    >
      <SelectField
        label="Valve train"
        path="$.valve_train"
        value={form.train}
        options={rolesUsed(form).length > 1 ? [...TRAINS, ["mixed", "differs by role"]] : TRAINS}
        onChange={(train) => change({ train })}
      />
      {rolesUsed(form).map((role) => (
        <RoleTrain key={role} role={role} form={form} change={change} />
      ))}
      {OVERHEAD.has(form.train) && (
        <>
          <TextField
            label="Teeth of the cam sprocket"
            path="$.cam_drive.sprocket_teeth"
            short
            numeric
            value={form.camDrive.teeth}
            onChange={(teeth) => change({ camDrive: { ...form.camDrive, teeth } })}
          />
          <TextField
            label="A cam mark may be off by"
            path="$.cam_drive.allow_teeth"
            short
            numeric
            unit="teeth"
            hint="half a tooth where the manual is silent"
            value={form.camDrive.allow}
            onChange={(allow) => change({ camDrive: { ...form.camDrive, allow } })}
          />
        </>
      )}
      <IgnitionFields form={form} change={change} />
      <Rows<TorqueForm>
        rows={form.torques}
        add={() => ({ what: "", figure: "", unit: "nm" })}
        addSays="Add a torque"
        nameOf={(row, index) => row.what || `torque ${index + 1}`}
        onChange={(torques) => change({ torques })}
        show={(row, index, part) => (
          <>
            <TextField
              label="Tightened"
              path={`$.torques[${index}].what`}
              value={row.what}
              onChange={(what) => part({ what })}
            />
            <TextField
              label="To"
              path={`$.torques[${index}].${row.unit}`}
              short
              numeric
              value={row.figure}
              onChange={(figure) => part({ figure })}
            />
            <SelectField
              label="Unit of the torque"
              value={row.unit}
              options={TORQUE_UNITS}
              onChange={(unit) => part({ unit: unit as TorqueForm["unit"] })}
            />
          </>
        )}
      />
      <Lines
        label="Parts, one on a line"
        value={form.parts}
        onType={(parts) => change({ parts })}
      />
      <Lines
        label="Tools, one on a line"
        value={form.tools}
        onType={(tools) => change({ tools })}
      />
      {(
        [
          ["hours", "Look again after", "hours"],
          ["km", "or after", "km"],
          ["months", "or after", "months"],
          ["first_hours", "The first time after", "hours"],
        ] as const
      ).map(([name, label, unit]) => (
        <TextField
          key={name}
          label={`${label} (${unit})`}
          path={`$.interval.${name}`}
          short
          numeric
          unit={unit}
          value={form.interval[name]}
          onChange={(typed) => change({ interval: { ...form.interval, [name]: typed } })}
        />
      ))}
    </Step>
  );
}

const OVERHEAD = new Set(["", "overhead-rocker", "finger", "bucket", "positive-closing", "mixed"]);

/** Where roles differ, and whether its rockers each work two stems. */
function RoleTrain({ role, form, change }: Props & { role: Role }) {
  const given = form.roles[role];
  const set = (part: Partial<Form["roles"][Role]>) =>
    change({ roles: { ...form.roles, [role]: { ...given, ...part } } });
  return (
    <>
      {form.train === "mixed" && (
        <SelectField
          label={`Valve train, ${role}`}
          path={`$.valve_train.${role}`}
          value={given.train}
          options={TRAINS}
          onChange={(train) => set({ train })}
        />
      )}
      {form.valves.filter((valve) => valve.role === role).length > Number(form.cylinders) && (
        <TickField
          label={`A rocker works two ${role} stems through a bridge`}
          value={given.bridged}
          onChange={(bridged) => set({ bridged })}
        />
      )}
    </>
  );
}

function IgnitionFields({ form, change }: Props) {
  const given = form.ignition;
  const ignition = (part: Partial<Form["ignition"]>) => change({ ignition: { ...given, ...part } });
  return (
    <>
      <SelectField
        label="Fires by"
        path="$.ignition.kind"
        value={given.kind}
        options={[
          ["", "the manual does not say"],
          ["spark", "spark"],
          ["compression", "compression"],
        ]}
        onChange={(kind) => ignition({ kind: kind as Form["ignition"]["kind"] })}
      />
      {given.kind === "spark" && (
        <TickField
          label="With a distributor"
          value={given.distributor}
          onChange={(distributor) => ignition({ distributor })}
        />
      )}
      {given.kind !== "" && (
        <>
          {STARTS.map((way) => (
            <TickField
              key={way}
              label={`Starts by ${way === "electric" ? "an electric starter" : way}`}
              value={given.start.includes(way)}
              onChange={(on) =>
                ignition({
                  start: on ? [...given.start, way] : given.start.filter((one) => one !== way),
                })
              }
            />
          ))}
          <SelectField
            label="Is stopped by"
            value={given.stop}
            options={[
              ["", "the manual does not say"],
              ["switch", "a switch"],
              ["lever", "a stop lever"],
              ["solenoid", "a solenoid"],
            ]}
            onChange={(stop) => ignition({ stop })}
          />
          <TickField
            label="Has a decompression lever"
            value={given.lever}
            onChange={(lever) => ignition({ lever })}
          />
        </>
      )}
    </>
  );
}

type LinesProps = { label: string; value: string; onType: (text: string) => void };

function Lines({ label, value, onType }: LinesProps) {
  return (
    <label className="edit-field wide">
      <span>{label}</span>
      <textarea
        className="field"
        rows={2}
        value={value}
        onChange={(event) => onType(event.target.value)}
      />
    </label>
  );
}
