/** The stand is as a student left it: what they set becomes the key for the next pair. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox } from "antd";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { nextKeyQuery } from "../api/queries";
import { thou } from "../app/lengths";
import { Ask } from "../kit/Ask";
import { Problem } from "../kit/Problem";
import "./marking.css";

export function NextKey({ handInId, student }: { handInId: number; student: string }) {
  const { data: seen } = useQuery(nextKeyQuery(handInId));
  const [asking, setAsking] = useState(false);
  const [thisSheet, setThisSheet] = useState(true);
  const make = useNextKey(handInId, () => setAsking(false));
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
          stand is still as they left it, don't mark the next pair with the old key.{" "}
          <Button onClick={() => setAsking(true)}>Make it the next key</Button>
        </p>
      )}
      <Problem error={make.error} />
      <Ask
        open={asking}
        title={`Key ${seen.based_on + 1}: as ${student} left the stand?`}
        does="Make it the key"
        instead="Keep the old key"
        pending={make.isPending}
        onClose={() => setAsking(false)}
        onConfirm={() => make.mutate({ basedOn: seen.based_on, thisSheet })}
      >
        <ul>
          {moved.map((gap) => (
            <Moved key={gap.valve} gap={gap} />
          ))}
        </ul>
        <p>All other valves stay as they are. Check one or two with your own leaf first.</p>
        <Checkbox checked={thisSheet} onChange={({ target }) => setThisSheet(target.checked)}>
          Mark everyone who hands this sheet in from now on with it
        </Checkbox>
      </Ask>
    </section>
  );
}

function useNextKey(handInId: number, onDone: () => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (wish: { basedOn: number; thisSheet: boolean }) =>
      unwrap(
        api.POST("/api/hand-ins/{hand_in_id}/next-key", {
          params: { path: { hand_in_id: handInId } },
          body: { based_on: wish.basedOn, this_sheet: wish.thisSheet },
        }),
      ),
    onSettled: () => {
      onDone();
      for (const queryKey of [keys.handIns, keys.sheets, keys.classes]) {
        queries.invalidateQueries({ queryKey });
      }
    },
  });
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
