/** The stand is as a student left it: what they set becomes the key for the next pair. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { nextKeyQuery } from "../api/queries";
import { Confirm } from "../app/Dialog";
import { sentence } from "../app/feedback";
import { thou } from "../app/lengths";
import "./marking.css";

export function NextKey({ handInId, student }: { handInId: number; student: string }) {
  const queries = useQueryClient();
  const { data: seen } = useQuery(nextKeyQuery(handInId));
  const [asking, setAsking] = useState(false);
  const [thisSheet, setThisSheet] = useState(true);
  const make = useMutation({
    mutationFn: (basedOn: number) =>
      unwrap(
        api.POST("/api/hand-ins/{hand_in_id}/next-key", {
          params: { path: { hand_in_id: handInId } },
          body: { based_on: basedOn, this_sheet: thisSheet },
        }),
      ),
    onSettled: () => {
      setAsking(false);
      queries.invalidateQueries({ queryKey: ["hand-ins"] });
      queries.invalidateQueries({ queryKey: ["sheets"] });
      queries.invalidateQueries({ queryKey: ["classes"] });
    },
  });
  const moved = seen?.gaps.filter((gap) => gap.moved) ?? [];
  if (!seen || moved.length === 0) return null;
  return (
    <section className="card next-key" aria-label="The stand's next key">
      {make.isSuccess ? (
        <p role="status">
          Key {make.data.number} is made: the stand as {student} left it. Earlier hand-ins keep the
          key that they were measured against.
        </p>
      ) : (
        <p>
          {student} adjusted {moved.length === 1 ? "one valve" : `${moved.length} valves`}. If the
          stand is still as they left it, the next pair must not be marked by the old key.{" "}
          <button type="button" className="button" onClick={() => setAsking(true)}>
            Make it the next key
          </button>
        </p>
      )}
      {make.isError && (
        <p className="notice" role="alert">
          {sentence(make.error)}
        </p>
      )}
      <Confirm
        open={asking}
        title={`Key ${seen.based_on + 1}: as ${student} left the stand?`}
        does="Make it the key"
        instead="Leave the key"
        pending={make.isPending}
        onClose={() => setAsking(false)}
        onConfirm={() => make.mutate(seen.based_on)}
      >
        <ul>
          {moved.map((gap) => (
            <Moved key={gap.valve} gap={gap} />
          ))}
        </ul>
        <p>All other valves stay as they are. Check one or two with your own leaf first.</p>
        <label className="check">
          <input
            type="checkbox"
            checked={thisSheet}
            onChange={(event) => setThisSheet(event.target.checked)}
          />
          Who hands this sheet in from now on is marked by it
        </label>
      </Confirm>
    </section>
  );
}

function Moved({ gap }: { gap: Schemas["NextGapOut"] }) {
  const [now, becomes] = [Number(gap.now_mm), Number(gap.becomes_mm)];
  return (
    <li>
      Valve {gap.valve}:{" "}
      <span className="figures">
        {now.toFixed(3)} → <b>{becomes.toFixed(3)} mm</b> ({thou(becomes)})
      </span>
      , {gap.why}
    </li>
  );
}
