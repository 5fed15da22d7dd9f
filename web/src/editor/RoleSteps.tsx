/** What a manual gives for intake, exhaust and brake rockers each: spec, timing, adjuster. */
import { Choice } from "../app/Choice";
import { inOtherUnit } from "../app/lengths";
import { TORQUE_UNITS } from "./around";
import { SelectField, Step, TextField, TickField } from "./Fields";
import {
  type AdjusterForm,
  type Change,
  eventNames,
  type Form,
  type Role,
  type RoleForm,
  rolesUsed,
} from "./form";

type Props = { form: Form; change: Change };

function changeRole({ form, change }: Props, role: Role, part: Partial<RoleForm>) {
  change({ roles: { ...form.roles, [role]: { ...form.roles[role], ...part } } });
}

export function ClearanceStep({ form, change }: Props) {
  const unit = form.unit === "thou" ? "thou" : "mm";
  return (
    <Step
      title="3 Clearance"
      about="As printed. The other unit is shown beside it."
      words="clearance, spec, thou"
    >
      <Choice
        label="Unit of the spec"
        options={[
          { value: "mm", label: "mm" },
          { value: "thou", label: "thou" },
        ]}
        value={form.unit}
        onChoose={(chosen) => change({ unit: chosen })}
      />
      <Choice
        label="Engine when measured"
        options={[
          { value: "cold", label: "cold" },
          { value: "hot", label: "hot" },
        ]}
        value={form.measured}
        onChoose={(measured) => change({ measured })}
      />
      {rolesUsed(form).map((role) => (
        <ClearanceOf key={role} role={role} common={unit} form={form} change={change} />
      ))}
    </Step>
  );
}

/** Two clearances each: where its valve train says so, or its file. */
function isPulledShut(form: Form, role: Role): boolean {
  const { train, closingMin, closingMax } = form.roles[role];
  const own = form.train === "mixed" ? train : form.train;
  return own === "positive-closing" || closingMin !== "" || closingMax !== "";
}

type ClearanceProps = Props & { role: Role; common: "mm" | "thou" };

function ClearanceOf({ role, common, form, change }: ClearanceProps) {
  const given = form.roles[role];
  const unit = given.unit === "mm" || given.unit === "thou" ? given.unit : common;
  const set = (part: Partial<RoleForm>) => changeRole({ form, change }, role, part);
  const gap = (name: Exclude<keyof RoleForm, "bridged">, label: string, path: string) => (
    <TextField
      label={label}
      path={path}
      short
      numeric
      unit={unit}
      hint={inOtherUnit(given[name], unit)}
      value={given[name]}
      onChange={(value) => set({ [name]: value })}
    />
  );
  const path = `$.clearance.${role}`;
  return (
    <div className={`role-row ${role}`}>
      <b>{role}</b>
      <Choice
        label={`How the ${role} spec is given`}
        options={[
          { value: "range", label: "from, to" },
          { value: "nominal", label: "figure ±" },
        ]}
        value={given.specAs}
        onChoose={(specAs) => set({ specAs: specAs as RoleForm["specAs"] })}
      />
      {given.specAs === "range" ? (
        <>
          {gap("min", "From", `${path}.min`)}
          {gap("max", "To", `${path}.max`)}
        </>
      ) : (
        <>
          {gap("nominal", "Figure", `${path}.nominal`)}
          {gap("minus", "Minus", `${path}.minus`)}
          {gap("plus", "Plus", `${path}.plus`)}
        </>
      )}
      {role === "brake" && (
        <>
          {gap("runningMin", "Running from", `${path}.running.min`)}
          {gap("runningMax", "Running to", `${path}.running.max`)}
          <TextField
            label="Measured where"
            path={`${path}.running.measured`}
            value={given.runningMeasured}
            onChange={(runningMeasured) => set({ runningMeasured })}
          />
        </>
      )}
      {isPulledShut(form, role) && (
        <>
          {gap("closingMin", "Closing from", `$.clearance.closing.${role}.min`)}
          {gap("closingMax", "Closing to", `$.clearance.closing.${role}.max`)}
        </>
      )}
      <SelectField
        label="Its unit"
        path={`${path}.unit`}
        value={given.unit}
        options={[
          ["", "as above"],
          ["mm", "mm"],
          ["thou", "thou"],
        ]}
        onChange={(own) => set({ unit: own })}
      />
    </div>
  );
}

const EVENT_WORDS: Record<string, string> = {
  opens_btdc: "Opens before TDC",
  closes_abdc: "Closes after BDC",
  opens_bbdc: "Opens before BDC",
  closes_atdc: "Closes after TDC",
  opens_cycle_deg: "Opens at cycle angle",
  closes_cycle_deg: "Closes at cycle angle",
};

export function TimingStep({ form, change }: Props) {
  return (
    <Step
      title="4 Valve timing"
      about="In crank degrees at nominal clearance. Before a dead centre counts as plus."
      words="ramp, lobe, overlap"
    >
      {rolesUsed(form).map((role) => {
        const given = form.roles[role];
        const set = (part: Partial<RoleForm>) => changeRole({ form, change }, role, part);
        const [opens, closes] = eventNames(role, given.timingAs);
        return (
          <div key={role} className={`role-row ${role}`}>
            <b>{role}</b>
            <TextField
              label={EVENT_WORDS[opens] ?? opens}
              path={`$.timing.${role}.${opens}`}
              short
              numeric
              unit="°"
              value={given.opens}
              onChange={(value) => set({ opens: value })}
            />
            <TextField
              label={EVENT_WORDS[closes] ?? closes}
              path={`$.timing.${role}.${closes}`}
              short
              numeric
              unit="°"
              value={given.closes}
              onChange={(value) => set({ closes: value })}
            />
            <TextField
              label="Full lift"
              path={`$.lift_mm.${role}`}
              short
              numeric
              unit="mm"
              value={given.lift}
              onChange={(lift) => set({ lift })}
            />
          </div>
        );
      })}
      <TextField
        label="Clearance ramp, each side"
        path="$.ramp_deg"
        short
        numeric
        unit="°"
        hint="10 to 30 where the manual is silent"
        value={form.ramp}
        onChange={(ramp) => change({ ramp })}
      />
    </Step>
  );
}

const KINDS = [
  ["screw", "screw and lock nut"],
  ["shim", "shims"],
  ["hydraulic", "hydraulic"],
  ["none", "not said"],
] as const;

export function AdjusterStep({ form, change }: Props) {
  const roles = rolesUsed(form);
  const shown = form.oneAdjuster ? roles.slice(0, 1) : roles;
  return (
    <Step
      title="5 How it is adjusted"
      about="One way for all valves, or one for each role."
      words="lock nut, shim, rocker"
    >
      {roles.length > 1 && (
        <TickField
          label="The same for all valves"
          value={form.oneAdjuster}
          onChange={(oneAdjuster) => change({ oneAdjuster })}
        />
      )}
      {shown.map((role) => (
        <div key={role} className={`role-row ${form.oneAdjuster ? "" : role}`}>
          {!form.oneAdjuster && <b>{role}</b>}
          <AdjusterFields
            given={form.adjusters[role]}
            path={form.oneAdjuster ? "$.adjuster" : `$.adjuster.${role}`}
            onChange={(part) =>
              change({
                adjusters: { ...form.adjusters, [role]: { ...form.adjusters[role], ...part } },
              })
            }
          />
        </div>
      ))}
      {roles.some((role) => isPulledShut(form, role)) && (
        <div className="role-row">
          <b>closing shims</b>
          {form.closingAdjuster === null ? (
            <p className="soft">They differ by role, and stay as the file has them.</p>
          ) : (
            <ShimFields
              given={form.closingAdjuster}
              path="$.closing_adjuster"
              onChange={(part) =>
                form.closingAdjuster &&
                change({ closingAdjuster: { ...form.closingAdjuster, ...part } })
              }
            />
          )}
        </div>
      )}
    </Step>
  );
}

type AdjusterProps = {
  given: AdjusterForm;
  path: string;
  onChange: (part: Partial<AdjusterForm>) => void;
};

function AdjusterFields({ given, path, onChange }: AdjusterProps) {
  return (
    <>
      <SelectField
        label="By"
        value={given.kind}
        options={KINDS}
        onChange={(kind) => onChange({ kind: kind as AdjusterForm["kind"] })}
      />
      {given.kind === "screw" && <ScrewFields given={given} path={path} onChange={onChange} />}
      {given.kind === "shim" && <ShimFields given={given} path={path} onChange={onChange} />}
    </>
  );
}

function ScrewFields({ given, path, onChange }: AdjusterProps) {
  return (
    <>
      <LengthField
        name="pitch"
        label="Thread pitch"
        inside="pitch_mm"
        {...{ given, path, onChange }}
      />
      <SelectField
        label="The screw is on the"
        value={given.screwAt}
        options={[
          ["valve", "valve side"],
          ["pushrod", "push-rod side"],
        ]}
        onChange={(at) => onChange({ screwAt: at as AdjusterForm["screwAt"] })}
      />
      {given.screwAt === "pushrod" && (
        <TextField
          label="Rocker ratio"
          path={`${path}.rocker_ratio`}
          short
          numeric
          value={given.ratio}
          onChange={(ratio) => onChange({ ratio })}
        />
      )}
      <TextField
        label="Lock nut"
        path={`${path}.locknut_torque_${given.torqueUnit}`}
        short
        numeric
        value={given.torque}
        onChange={(torque) => onChange({ torque })}
      />
      <SelectField
        label="Unit of its torque"
        value={given.torqueUnit}
        options={TORQUE_UNITS}
        onChange={(unit) => onChange({ torqueUnit: unit as AdjusterForm["torqueUnit"] })}
      />
    </>
  );
}

function ShimFields({ given, path, onChange }: AdjusterProps) {
  return (
    <>
      <SelectField
        label="They lie"
        value={given.place}
        options={[
          ["under-bucket", "under the bucket"],
          ["over-bucket", "over the bucket"],
          ["under-follower", "under the follower"],
        ]}
        onChange={(place) => onChange({ place: place as AdjusterForm["place"] })}
      />
      <LengthField
        name="from"
        label="Thinnest"
        inside="sizes_mm.from"
        {...{ given, path, onChange }}
      />
      <LengthField name="to" label="Thickest" inside="sizes_mm.to" {...{ given, path, onChange }} />
      <LengthField name="step" label="Step" inside="sizes_mm.step" {...{ given, path, onChange }} />
      <TextField
        label="Across"
        path={`${path}.diameter_mm`}
        short
        numeric
        unit="mm"
        value={given.diameter}
        onChange={(diameter) => onChange({ diameter })}
      />
      <TextField
        label="Stamped"
        path={`${path}.codes`}
        hint="where stamps are no sizes: × 0.01, or A = 2.20, B = 2.25"
        value={given.codes}
        onChange={(codes) => onChange({ codes })}
      />
      <TickField
        label="Cams come out"
        value={given.camsOut}
        onChange={(camsOut) => onChange({ camsOut })}
      />
    </>
  );
}

type LengthProps = AdjusterProps & {
  name: "pitch" | "from" | "to" | "step";
  label: string;
  /** Where it stands in the adjuster of the engine file. */
  inside: string;
};

function LengthField({ name, label, inside, given, path, onChange }: LengthProps) {
  return (
    <TextField
      label={label}
      path={`${path}.${inside}`}
      short
      numeric
      unit="mm"
      value={given[name]}
      onChange={(value) => onChange({ [name]: value })}
    />
  );
}
