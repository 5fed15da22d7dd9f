/** A stand's key was corrected: whose marks move, and by how much, before it is done. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { remarkQuery } from "../api/queries";
import { day } from "../app/school";
import { Ask } from "../kit/Ask";
import { type DataColumn, DataTable } from "../kit/DataTable";
import { Problem } from "../kit/Problem";
import "./marking.css";

type Seen = Schemas["RemarkOut"];
type Move = Seen["moves"][number];

const COLUMNS: readonly DataColumn<Move>[] = [
  {
    title: "Student",
    show: (move) => <Link to={`/hand-in/${move.hand_in_id}`}>{move.student}</Link>,
    sort: (move) => move.student,
    find: (move) => move.student,
  },
  { title: "Now", right: true, show: (move) => move.before, sort: (move) => move.before },
  { title: "Then", right: true, show: (move) => move.after, sort: (move) => move.after },
  {
    title: "Change",
    right: true,
    show: (move) => `${move.after > move.before ? "+" : "−"}${Math.abs(move.after - move.before)}`,
    sort: (move) => move.after - move.before,
  },
];

export function ReMark({ sheetId }: { sheetId: number }) {
  // Waited for with the board: what comes later would push the rows from under a finger.
  const { data: seen } = useSuspenseQuery(remarkQuery(sheetId));
  const [asking, setAsking] = useState(false);
  const remark = useReMark(sheetId, () => setAsking(false));
  if (seen.key_number === seen.newest_key_number) {
    return seen.may_take_back ? <TakeBack sheetId={sheetId} /> : null;
  }
  return (
    <section className="card re-mark" aria-label="A newer key">
      <h2>The stand has a newer key</h2>
      <p>
        This sheet is marked with key {seen.key_number}; key {seen.newest_key_number} was measured
        on {day(seen.newest_made_at)}. If the stand was adjusted in between, leave the marks as they
        are. If the old key was wrong, re-mark.
      </p>
      {seen.moves.length === 0 ? (
        <p className="soft">None of the {seen.hand_ins} sheets would change its points.</p>
      ) : (
        <DataTable
          label="Marks that would change"
          rows={seen.moves}
          keyOf={(move) => move.hand_in_id}
          columns={COLUMNS}
        />
      )}
      <Problem error={remark.error} />
      <Button type="primary" onClick={() => setAsking(true)}>
        Re-mark with key {seen.newest_key_number}
      </Button>
      <Ask
        open={asking}
        title={`Re-mark ${seen.hand_ins} sheets?`}
        does="Re-mark"
        instead="Leave them"
        pending={remark.isPending}
        onClose={() => setAsking(false)}
        onConfirm={() => remark.mutate(seen.newest_key_number)}
      >
        <p>
          {seen.moves.length} of {seen.hand_ins} change. Marks that you have overridden stay as you
          set them, and the old marks stay on record.
        </p>
      </Ask>
    </section>
  );
}

/** The sheet was re-marked; the key before it is still known. */
function TakeBack({ sheetId }: { sheetId: number }) {
  const queries = useQueryClient();
  const [asking, setAsking] = useState(false);
  const back = useMutation({
    mutationFn: () =>
      unwrap(
        api.DELETE("/api/sheets/{sheet_id}/remark", { params: { path: { sheet_id: sheetId } } }),
      ),
    onSettled: () => {
      setAsking(false);
      queries.invalidateQueries({ queryKey: keys.sheet(sheetId) });
      queries.invalidateQueries({ queryKey: keys.handIns });
    },
  });
  return (
    <p className="soft taken-back">
      This sheet was re-marked with a newer key.{" "}
      <Button onClick={() => setAsking(true)}>Take the re-marking back</Button>
      <Problem error={back.error} />
      <Ask
        open={asking}
        title="Mark by the key before again?"
        does="Take it back"
        instead="Leave the marks"
        pending={back.isPending}
        onClose={() => setAsking(false)}
        onConfirm={() => back.mutate()}
      >
        <p>
          Every sheet, those handed in since too, is marked by the key that it was set with. Marks
          that you have overridden stay as you set them.
        </p>
      </Ask>
    </p>
  );
}

function useReMark(sheetId: number, onDone: () => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (keyNumber: number) =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/remark", {
          params: { path: { sheet_id: sheetId } },
          body: { key_number: keyNumber },
        }),
      ),
    onSettled: () => {
      onDone();
      queries.invalidateQueries({ queryKey: keys.sheet(sheetId) });
      queries.invalidateQueries({ queryKey: keys.handIns });
    },
  });
}
