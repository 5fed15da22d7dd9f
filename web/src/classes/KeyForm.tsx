/** Entering a key: the reference gap of every valve of a stand. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Radio } from "antd";
import { type FormEvent, useState } from "react";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { standsQuery } from "../api/queries";
import { Badge } from "../app/Badge";
import { Confirm } from "../app/Dialog";
import { sentence } from "../app/feedback";
import { inOtherUnit } from "../app/lengths";
import { type Unit, useUnit } from "../app/session";

type Props = { stand: Schemas["StandOut"]; classId: number; onClose: () => void };

export function KeyForm({ stand, classId, onClose }: Props) {
  const queries = useQueryClient();
  const [unit, setUnit] = useState<Unit>(useUnit());
  const [gaps, setGaps] = useState<Record<number, string>>({});
  const [uncertainty, setUncertainty] = useState("");
  const [leaving, setLeaving] = useState(false);
  const save = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/stands/{stand_id}/keys", {
          params: { path: { stand_id: stand.id } },
          body: {
            gaps: stand.valves.map((valve) => ({
              valve: valve.number,
              gap: gaps[valve.number] ?? "",
              unit,
            })),
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
  const faults = save.error instanceof ApiProblem ? save.error.fields : [];

  const typed = Object.values(gaps).some((gap) => gap.trim() !== "");

  function submit(event: FormEvent) {
    event.preventDefault();
    save.mutate();
  }

  return (
    <form className="key-form" onSubmit={submit}>
      <p className="soft">
        Measure twice, on the heel, with the engine as the spec says. Sheets set from now on are
        marked by this key; older ones keep theirs. Students never see it.
      </p>
      <Radio.Group
        value={unit}
        onChange={(event) => setUnit(event.target.value)}
        optionType="button"
        options={["mm", "thou"]}
      />
      <div className="key-lines">
        {stand.valves.map((valve) => {
          const fault = faults.find((f) => f.path === `valve ${valve.number}`)?.problem;
          const typed = gaps[valve.number] ?? "";
          return (
            <div key={valve.number} className={`key-line ${valve.role}`}>
              <Badge number={valve.number} role={valve.role} size={36} />
              <Input
                className="figures"
                inputMode="decimal"
                maxLength={40}
                value={typed}
                status={fault ? "error" : ""}
                suffix={unit}
                aria-label={`Gap of valve ${valve.number}`}
                onChange={(event) => setGaps({ ...gaps, [valve.number]: event.target.value })}
              />
              <span className={fault ? "fault" : "soft figures"}>
                {fault ?? inOtherUnit(typed, unit)}
              </span>
            </div>
          );
        })}
      </div>
      <div className="key-line uncertain">
        <label htmlFor="uncertainty">Each gap is known to ±</label>
        <Input
          id="uncertainty"
          className="figures"
          inputMode="decimal"
          maxLength={20}
          value={uncertainty}
          suffix={unit}
          placeholder="exact"
          onChange={(event) => setUncertainty(event.target.value)}
        />
        <span className="soft">
          so much, 95 times of 100. A reading is counted wrong only beyond the sheet's tolerance and
          this together; between the two nobody can tell, and the student gets the point.
        </span>
      </div>
      {save.isError && (
        <p className="notice" role="alert">
          {sentence(save.error)}
        </p>
      )}
      <div className="ways">
        <Button type="primary" htmlType="submit" loading={save.isPending}>
          Save key
        </Button>
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
