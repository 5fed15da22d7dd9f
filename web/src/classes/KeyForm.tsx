/** Entering a key: the reference gap of every valve of a stand, from one pass or several. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Radio } from "antd";
import { type FormEvent, useDeferredValue, useState } from "react";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { pooledQuery, standsQuery } from "../api/queries";
import { Badge } from "../app/Badge";
import { Confirm } from "../app/Dialog";
import { sentence } from "../app/feedback";
import { inOtherUnit } from "../app/lengths";
import { type Unit, useUnit } from "../app/session";

type Stand = Schemas["StandOut"];
type Props = { stand: Stand; classId: number; onClose: () => void };
/** One time through all valves, as typed. */
type Pass = { by: string; gaps: Record<number, string> };
const EMPTY: Pass = { by: "", gaps: {} };
const MOST_PASSES = 6;

function gapsOf(stand: Stand, pass: Pass, unit: Unit): Schemas["GapIn"][] {
  return stand.valves.map((valve) => ({
    valve: valve.number,
    gap: pass.gaps[valve.number] ?? "",
    unit,
  }));
}

export function KeyForm({ stand, classId, onClose }: Props) {
  const queries = useQueryClient();
  const [unit, setUnit] = useState<Unit>(useUnit());
  const [passes, setPasses] = useState<Pass[]>([EMPTY]);
  const [uncertainty, setUncertainty] = useState("");
  const [leaving, setLeaving] = useState(false);
  const several = passes.length > 1;
  const body = useDeferredValue({
    passes: passes.map(({ by, ...pass }) => ({ by, gaps: gapsOf(stand, { by, ...pass }, unit) })),
  });
  const whole = passes.every((pass) => stand.valves.every((v) => pass.gaps[v.number]?.trim()));
  const pooled = useQuery({ ...pooledQuery(stand.id, body), enabled: several && whole });
  const path = { path: { stand_id: stand.id } };
  const save = useMutation({
    mutationFn: () =>
      several
        ? unwrap(api.POST("/api/stands/{stand_id}/passes", { params: path, body }))
        : unwrap(
            api.POST("/api/stands/{stand_id}/keys", {
              params: path,
              body: {
                gaps: gapsOf(stand, passes[0] ?? EMPTY, unit),
                uncertainty,
                uncertainty_unit: unit,
              },
            }),
          ),
    onSuccess: () => {
      queries.invalidateQueries(standsQuery(classId));
      onClose();
    },
  });
  const fields = save.error instanceof ApiProblem ? save.error.fields : [];
  const faults = new Map(fields.map((field) => [field.path, field.problem]));
  const typed = passes.some((pass) => Object.values(pass.gaps).some((gap) => gap.trim() !== ""));

  function change(number: number, part: Partial<Pass>) {
    setPasses(passes.map((pass, at) => (at === number ? { ...pass, ...part } : pass)));
  }

  return (
    <form
      className="key-form"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <p className="soft">
        Measure on the heel, with the engine as the spec says. Sheets set from now on are marked by
        this key; older ones keep theirs. Students never see it.
      </p>
      <Radio.Group
        value={unit}
        onChange={(event) => setUnit(event.target.value)}
        optionType="button"
        options={["mm", "thou"]}
      />
      <div className={several ? "key-lines several" : "key-lines"}>
        {several && (
          <div className="key-line">
            <span />
            {passes.map((pass, at) => (
              <Input
                // biome-ignore lint/suspicious/noArrayIndexKey: a pass is its place
                key={at}
                maxLength={80}
                value={pass.by}
                placeholder={`${at + 1}: by you`}
                aria-label={`Who measured pass ${at + 1}`}
                onChange={(event) => change(at, { by: event.target.value })}
              />
            ))}
            <span className="soft">mean, known to ±</span>
          </div>
        )}
        {stand.valves.map((valve) => {
          const found = pooled.data?.gaps.find((gap) => several && gap.valve === valve.number);
          const told = [
            faults.get(`valve ${valve.number}`),
            ...passes.map((_, at) => faults.get(`pass ${at + 1}.valve ${valve.number}`)),
          ].find((fault) => fault !== undefined);
          return (
            <div key={valve.number} className={`key-line ${valve.role}`}>
              <Badge number={valve.number} role={valve.role} size={36} />
              {passes.map((pass, at) => (
                <Input
                  // biome-ignore lint/suspicious/noArrayIndexKey: a pass is its place
                  key={at}
                  className="figures"
                  inputMode="decimal"
                  maxLength={40}
                  value={pass.gaps[valve.number] ?? ""}
                  status={told ? "error" : ""}
                  suffix={unit}
                  aria-label={`Gap of valve ${valve.number}${several ? `, pass ${at + 1}` : ""}`}
                  onChange={(event) =>
                    change(at, { gaps: { ...pass.gaps, [valve.number]: event.target.value } })
                  }
                />
              ))}
              <span className={told || found?.apart ? "fault" : "soft figures"}>
                {told ??
                  (found ? meanOf(found) : inOtherUnit(passes[0]?.gaps[valve.number] ?? "", unit))}
              </span>
            </div>
          );
        })}
      </div>
      {several ? (
        <p className="soft">
          {pooled.data?.spread_mm
            ? `One pass scatters by ${pooled.data.spread_mm.toFixed(3)} mm, over all valves. `
            : ""}
          The key is the mean of the passes; how well it is known follows from how they agree, and
          is never better than ±0.01 mm, as a leaf is made and felt.
        </p>
      ) : (
        <Uncertainty value={uncertainty} unit={unit} onType={setUncertainty} />
      )}
      {save.isError && (
        <p className="notice" role="alert">
          {sentence(save.error)}
        </p>
      )}
      <div className="ways">
        <Button type="primary" htmlType="submit" loading={save.isPending}>
          Save key
        </Button>
        <Button
          disabled={passes.length >= MOST_PASSES}
          onClick={() => setPasses([...passes, EMPTY])}
        >
          One more pass
        </Button>
        {several && <Button onClick={() => setPasses(passes.slice(0, -1))}>One pass less</Button>}
        <Button onClick={typed ? () => setLeaving(true) : onClose}>Leave it</Button>
      </div>
      <Confirm
        open={leaving}
        title="Leave this key unsaved?"
        instead="Go on typing"
        does="Drop what I typed"
        onClose={() => setLeaving(false)}
        onConfirm={onClose}
      >
        <p>The gaps that you have typed will be gone.</p>
      </Confirm>
    </form>
  );
}

function meanOf(gap: Schemas["PooledGapOut"]): string {
  const mean = `${Number(gap.gap_mm).toFixed(3)} ±${Number(gap.uncertainty_mm).toFixed(3)} mm`;
  const apart = `${Number(gap.range_mm).toFixed(2)} mm apart: measure again`;
  return gap.apart ? `${mean}, ${apart}` : mean;
}

type UncertaintyProps = { value: string; unit: Unit; onType: (text: string) => void };

function Uncertainty({ value, unit, onType }: UncertaintyProps) {
  return (
    <div className="key-line uncertain">
      <label htmlFor="uncertainty">Each gap is known to ±</label>
      <Input
        id="uncertainty"
        className="figures"
        inputMode="decimal"
        maxLength={20}
        value={value}
        suffix={unit}
        placeholder="exact"
        onChange={(event) => onType(event.target.value)}
      />
      <span className="soft">
        so much, 95 times of 100. A reading is counted wrong only beyond the sheet's tolerance and
        this together; between the two nobody can tell, and the student gets the point. Measured
        more than once? Add a pass, and Edrix works it out.
      </span>
    </div>
  );
}
