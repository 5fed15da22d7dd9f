/** Entering a key: the reference gap of every valve of a stand, from one pass or several. */

import { Button, Input, Radio } from "antd";
import { type FormEvent, useState } from "react";
import type { Schemas } from "../api/client";
import { Badge } from "../app/Badge";
import { inOtherUnit } from "../app/lengths";
import { Ask } from "../kit/Ask";
import { Figure } from "../kit/Figure";
import { Problem } from "../kit/Problem";
import { type KeyTyped, MOST_PASSES, useKeyForm } from "./useKeyForm";

type Stand = Schemas["StandOut"];
type Valve = Stand["valves"][number];
type Props = { stand: Stand; classId: number; correct?: boolean; onClose: () => void };

export function KeyForm({ stand, classId, correct = false, onClose }: Props) {
  const key = useKeyForm(stand, classId, onClose, correct);
  return (
    <form
      className="key-form"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        key.save.mutate(false);
      }}
    >
      <p className="soft">
        {correct
          ? "These are the gaps of the newest key; change what is wrong. "
          : "Measure on the heel, with the engine as the spec says. "}
        Sheets set from now on are marked with this key; older ones keep theirs until you mark them
        again by it. Students never see it.
      </p>
      <Radio.Group
        value={key.unit}
        onChange={(event) => key.setUnit(event.target.value)}
        optionType="button"
        options={["mm", "thou"]}
      />
      <div className={key.several ? "key-lines several" : "key-lines"}>
        {key.several && <MeasuredBy typed={key} />}
        {stand.valves.map((valve) => (
          <KeyLine key={valve.number} valve={valve} typed={key} />
        ))}
      </div>
      {key.several ? <Pooled spreadMm={key.pooled?.spread_mm} /> : <Uncertainty typed={key} />}
      <div className="key-meter">
        <label htmlFor="key-meter">What its meter reads</label>
        <Figure id="key-meter" value={key.meter} maxLength={20} onType={key.setMeter} />
        <span className="soft">Blank is as it was last read. The logbook keeps it.</span>
      </div>
      <Problem error={key.doubts.length > 0 ? null : key.save.error} />
      <Doubts typed={key} />
      <Ways typed={key} onClose={onClose} />
    </form>
  );
}

function MeasuredBy({ typed }: { typed: KeyTyped }) {
  return (
    <div className="key-line">
      <span />
      {typed.passes.map((pass, at) => (
        <Input
          // biome-ignore lint/suspicious/noArrayIndexKey: a pass is its place
          key={at}
          maxLength={80}
          value={pass.by}
          placeholder={`${at + 1}: by you`}
          aria-label={`Who measured pass ${at + 1}`}
          onChange={(event) => typed.change(at, { by: event.target.value })}
        />
      ))}
      <span className="soft">mean, known to ±</span>
    </div>
  );
}

function KeyLine({ valve, typed }: { valve: Valve; typed: KeyTyped }) {
  const { number, role } = valve;
  const fault = typed.faultAt(number);
  const pooled = typed.pooled?.gaps.find((gap) => gap.valve === number);
  const other = inOtherUnit(typed.passes[0]?.gaps[number] ?? "", typed.unit);
  return (
    <div className={`key-line ${role}`}>
      <Badge number={number} role={role} size={36} />
      {typed.passes.map((pass, at) => (
        <Figure
          // biome-ignore lint/suspicious/noArrayIndexKey: a pass is its place
          key={at}
          value={pass.gaps[number] ?? ""}
          wrong={fault !== undefined}
          suffix={typed.unit}
          aria-label={`Gap of valve ${number}${typed.several ? `, pass ${at + 1}` : ""}`}
          onType={(gap) => typed.change(at, { gaps: { ...pass.gaps, [number]: gap } })}
        />
      ))}
      {valve.closing &&
        typed.passes.map((pass, at) => (
          <Figure
            // biome-ignore lint/suspicious/noArrayIndexKey: a pass is its place
            key={at}
            value={pass.closing?.[number] ?? ""}
            wrong={fault !== undefined}
            suffix={typed.unit}
            placeholder="closing"
            aria-label={`Closing gap of valve ${number}${typed.several ? `, pass ${at + 1}` : ""}`}
            onType={(gap) => typed.change(at, { closing: { ...pass.closing, [number]: gap } })}
          />
        ))}
      <span className={fault || pooled?.apart ? "fault" : "soft figures"}>
        {fault ?? (pooled ? meanOf(pooled) : other)}
      </span>
    </div>
  );
}

function meanOf(gap: Schemas["PooledGapOut"]): string {
  const mean = `${Number(gap.gap_mm).toFixed(3)} ±${Number(gap.uncertainty_mm).toFixed(3)} mm`;
  const apart = `${Number(gap.range_mm).toFixed(2)} mm apart: measure again`;
  return gap.apart ? `${mean}, ${apart}` : mean;
}

function Pooled({ spreadMm }: { spreadMm: number | null | undefined }) {
  return (
    <p className="soft">
      {spreadMm ? `Repeatability of one pass: ${spreadMm.toFixed(3)} mm. ` : ""}
      The key is the mean of the passes; its uncertainty follows from how well they agree, and is
      never better than ±0.01 mm, the best a leaf and a hand can do.
    </p>
  );
}

/** Figures that look like slips, and passes that do not agree: such a key would mark every student
 * wrong. */
function Doubts({ typed }: { typed: KeyTyped }) {
  return (
    <Ask
      open={typed.doubts.length > 0}
      title="Is this key right?"
      instead="Look at it again"
      does="Save the key all the same"
      danger
      onClose={() => typed.save.reset()}
      onConfirm={() => typed.save.mutate(true)}
    >
      <ul>
        {typed.doubts.map(({ path, problem }) => (
          <li key={path}>
            {path}: {problem}
          </li>
        ))}
      </ul>
      <p>A key marks every sheet of this stand from now on.</p>
    </Ask>
  );
}

function Uncertainty({ typed }: { typed: KeyTyped }) {
  return (
    <div className="key-line uncertain">
      <label htmlFor="uncertainty">Uncertainty of each gap ±</label>
      <Figure
        id="uncertainty"
        maxLength={20}
        value={typed.uncertainty}
        suffix={typed.unit}
        placeholder="exact"
        onType={typed.setUncertainty}
      />
      <span className="soft">
        at 95 % confidence. A reading is counted wrong only beyond the sheet's tolerance plus this;
        between the two the student gets the point. Measured more than once? Add a pass, and Edrix
        works it out.
      </span>
    </div>
  );
}

function Ways({ typed, onClose }: { typed: KeyTyped; onClose: () => void }) {
  const [leaving, setLeaving] = useState(false);
  return (
    <div className="ways">
      <Button type="primary" htmlType="submit" loading={typed.save.isPending}>
        Save key
      </Button>
      <Button disabled={typed.passes.length >= MOST_PASSES} onClick={typed.addPass}>
        Add a pass
      </Button>
      {typed.several && <Button onClick={typed.dropPass}>Remove last pass</Button>}
      <Button onClick={typed.typed ? () => setLeaving(true) : onClose}>Cancel</Button>
      <Ask
        open={leaving}
        title="Leave without saving?"
        instead="Keep typing"
        does="Discard it"
        danger
        onClose={() => setLeaving(false)}
        onConfirm={() => {
          typed.forget();
          onClose();
        }}
      >
        <p>The gaps that you have typed will be gone.</p>
      </Ask>
    </div>
  );
}
