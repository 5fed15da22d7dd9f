/** Which leaves of the box make a thickness, where the instructor allows that help. */
import { useMutation } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, unwrap } from "../api/client";
import { Field } from "../app/Field";
import { sentence } from "../app/feedback";
import type { Unit } from "../app/session";

type Props = { runId: number; unit: Unit; onHold: (leaves: number[]) => void };

export function StackHelp({ runId, unit, onHold }: Props) {
  const [typed, setTyped] = useState("");
  const find = useMutation({
    mutationFn: () =>
      unwrap(
        api.GET("/api/runs/{run_id}/stack", {
          params: { path: { run_id: runId }, query: { target: typed, unit } },
        }),
      ),
    onSuccess: (stack) => onHold(stack.leaves_um),
  });
  return (
    <form
      className="by"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        find.mutate();
      }}
    >
      <Field
        label={`Thickness to make, in ${unit}`}
        value={typed}
        onChange={setTyped}
        placeholder={unit === "mm" ? "0.28" : "11"}
        most={10}
      />
      <button type="submit" className="button" disabled={typed.trim() === "" || find.isPending}>
        Which leaves make it?
      </button>
      {find.isError && (
        <span className="notice" role="alert">
          {sentence(find.error)}
        </span>
      )}
    </form>
  );
}
