/** Planning: begun, how far it is, stopped, and what was found with what it changes. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Progress } from "antd";
import { useEffect } from "react";
import { api, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { planningQuery } from "../api/rota";
import { counted } from "../app/words";
import { Problem } from "../kit/Problem";
import { useSaid } from "../kit/useSaid";
import {
  missingWords,
  type Planning,
  pairsWords,
  placeOf,
  type Rota,
  slotWords,
  taskOf,
  who,
} from "./words";

/** A worker takes a job within a second; after so long somebody should be told. */
const NOBODY_MS = 15_000;

type Props = { rota: Rota; waits: boolean };

export function PlanBar({ rota, waits }: Props) {
  const queries = useQueryClient();
  const said = useSaid();
  const path = { params: { path: { rota_id: rota.id } } };
  const again = () => queries.invalidateQueries({ queryKey: keys.rota(rota.id) });
  const { data: now } = useQuery({ ...planningQuery(rota.id), initialData: rota.planning });
  const isOver = now?.is_over ?? true;
  const seen = rota.planning;
  useEffect(() => {
    // It came to its end while this page looked on: the week is another now.
    if (now && isOver && (seen?.job_id !== now.job_id || !seen.is_over)) {
      queries.invalidateQueries({ queryKey: keys.rota(rota.id), exact: true });
    }
  }, [now, isOver, seen, queries, rota.id]);
  const plan = useMutation({
    mutationFn: (few: boolean) =>
      unwrap(api.POST("/api/rotas/{rota_id}/plan", { ...path, body: { few_changes: few } })),
    onSuccess: again,
  });
  const stop = useMutation({
    mutationFn: () => unwrap(api.POST("/api/rotas/{rota_id}/planning/stop", path)),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.ofRota(rota.id, "planning") }),
  });
  const keep = useMutation({
    mutationFn: (jobId: number) =>
      unwrap(api.POST("/api/rotas/{rota_id}/keep", { ...path, body: { job_id: jobId } })),
    onSuccess: () => {
      said("Kept. The way back is beside the plan.");
      again();
    },
  });
  const undo = useMutation({
    mutationFn: () =>
      unwrap(api.POST("/api/rotas/{rota_id}/undo", { ...path, body: { revision: rota.revision } })),
    onSuccess: again,
  });
  const isPlanned = rota.bookings.length > 0;
  return (
    <section className="plan-bar" aria-label="Planning">
      {now && !isOver ? (
        <UnderWay rota={rota} now={now} onStop={() => stop.mutate()} stopping={stop.isPending} />
      ) : (
        <div className="ways">
          {isPlanned && (
            <Button
              type="primary"
              disabled={waits}
              loading={plan.isPending}
              onClick={() => plan.mutate(true)}
            >
              Plan anew with few changes
            </Button>
          )}
          <Button
            type={isPlanned ? "default" : "primary"}
            disabled={waits}
            loading={plan.isPending}
            onClick={() => plan.mutate(false)}
          >
            {isPlanned ? "Plan all of it anew" : "Plan it"}
          </Button>
          {rota.can_undo && (
            <Button loading={undo.isPending} onClick={() => undo.mutate()}>
              Back to the plan before
            </Button>
          )}
        </div>
      )}
      {waits && <p className="soft">Save what you changed first; then it can be planned.</p>}
      <Problem error={plan.error ?? keep.error ?? undo.error ?? stop.error} />
      {seen?.is_over && seen.state === "failed" && (
        <Alert type="error" showIcon title={seen.says} />
      )}
      {seen?.is_over && seen.offered && (
        <Offer
          rota={rota}
          found={seen}
          onKeep={() => keep.mutate(seen.job_id)}
          keeping={keep.isPending}
        />
      )}
    </section>
  );
}

type UnderWayProps = { rota: Rota; now: Planning; onStop: () => void; stopping: boolean };

function UnderWay({ rota, now, onStop, stopping }: UnderWayProps) {
  const since = Date.now() - new Date(now.made_at).getTime();
  const isLost = now.state === "waiting" && since > NOBODY_MS;
  const all = rota.students.length * (rota.wish.tasks?.length ?? 0);
  const placed = now.missing == null ? null : all - now.missing;
  return (
    <div className="under-way" role="status">
      <div className="ways">
        <b>{now.state === "waiting" ? "Waiting for a worker" : "Planning"}</b>
        <Button onClick={onStop} loading={stopping}>
          {placed === null ? "Stop" : "Stop and keep the best"}
        </Button>
      </div>
      <Progress
        percent={Math.min(99, Math.round(since / 10 / now.most_s))}
        showInfo={false}
        aria-label="Time used"
      />
      <p>
        {isLost
          ? "No worker has taken it yet. Is the server still running? A worker is started with it."
          : placed === null
            ? `${now.few_changes ? "Looking for the fewest changes" : "Looking for a first plan"} for ${counted(rota.students.length, "student")}…`
            : `${placed} of ${all} places found${now.repeats == null ? "" : `, ${pairsWords(now.repeats)}`}${now.moved == null ? "" : `, ${counted(now.moved, "place")} moved`}. Looking for a better one.`}
      </p>
    </div>
  );
}

type OfferProps = { rota: Rota; found: Planning; onKeep: () => void; keeping: boolean };

function Offer({ rota, found, onKeep, keeping }: OfferProps) {
  const changes = found.changes ?? [];
  const at = (seat: { slot: string; place: string } | null) =>
    seat === null ? "no place" : `${slotWords(seat.slot)}, ${placeOf(rota, seat.place)}`;
  const isFewest = found.few_changes && found.proven;
  return (
    <div className="card rota-offer">
      <h2>
        {changes.length === 0
          ? "Nothing better was found: all stays as it is"
          : `${counted(changes.length, "place")} would change`}
      </h2>
      <p>
        With it, {missingWords(found.missing ?? 0)}, and {pairsWords(found.repeats ?? 0)}.
        {changes.length > 0 && isFewest && " Fewer changes are not possible; that is proven."}
      </p>
      {changes.length > 0 && (
        <>
          <table className="changes">
            <thead>
              <tr>
                <th scope="col">Student</th>
                <th scope="col">Task</th>
                <th scope="col">Was</th>
                <th scope="col">Would be</th>
              </tr>
            </thead>
            <tbody>
              {changes.map((one) => (
                <tr key={`${one.student} ${one.task}`}>
                  <td>{who(rota, one.student)}</td>
                  <td>{taskOf(rota, one.task)}</td>
                  <td>{at(one.was)}</td>
                  <td>
                    <b>{at(one.now)}</b>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className="ways">
            <Button type="primary" loading={keeping} onClick={onKeep}>
              Keep this plan
            </Button>
            <span className="soft">Until then the rota stays as it is.</span>
          </div>
        </>
      )}
    </div>
  );
}
