/** A stand's key was corrected: whose marks move, and by how much, before it is done. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, unwrap } from "../api/client";
import { remarkQuery } from "../api/queries";
import { Confirm } from "../app/Dialog";
import { sentence } from "../app/feedback";
import "./marking.css";
import { ListTable } from "../app/ListTable";

export function MarkAnew({ sheetId }: { sheetId: number }) {
  const queries = useQueryClient();
  const { data: seen } = useQuery(remarkQuery(sheetId));
  const [asking, setAsking] = useState(false);
  const remark = useMutation({
    mutationFn: (keyNumber: number) =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/remark", {
          params: { path: { sheet_id: sheetId } },
          body: { key_number: keyNumber },
        }),
      ),
    onSettled: () => {
      setAsking(false);
      queries.invalidateQueries({ queryKey: ["sheets", sheetId] });
      queries.invalidateQueries({ queryKey: ["hand-ins"] });
    },
  });
  if (!seen || seen.key_number === seen.newest_key_number) return null;
  const when = new Date(seen.newest_made_at).toLocaleDateString([], { dateStyle: "medium" });
  return (
    <section className="card mark-anew" aria-label="A newer key">
      <h2>The stand has a newer key</h2>
      <p>
        This sheet is marked by key {seen.key_number}; key {seen.newest_key_number} was measured on{" "}
        {when}. If the stand was adjusted in between, leave the marks as they are. If the old key
        was wrong, mark anew.
      </p>
      {seen.moves.length === 0 ? (
        <p className="soft">No points of the {seen.hand_ins} sheets would change.</p>
      ) : (
        <ListTable
          label="Marks that would move"
          rows={seen.moves}
          keyOf={(move) => move.hand_in_id}
          columns={[
            {
              title: "Student",
              show: (move) => <Link to={`/hand-in/${move.hand_in_id}`}>{move.student}</Link>,
            },
            { title: "Now", right: true, show: (move) => move.before },
            { title: "Then", right: true, show: (move) => move.after },
            {
              title: "Moves by",
              right: true,
              show: (move) =>
                `${move.after > move.before ? "+" : "−"}${Math.abs(move.after - move.before)}`,
            },
          ]}
        />
      )}
      {remark.isError && (
        <p className="notice" role="alert">
          {sentence(remark.error)}
        </p>
      )}
      <button type="button" className="button main" onClick={() => setAsking(true)}>
        Mark anew by key {seen.newest_key_number}
      </button>
      <Confirm
        open={asking}
        title={`Mark ${seen.hand_ins} sheets anew?`}
        does="Mark anew"
        instead="Leave them"
        pending={remark.isPending}
        onClose={() => setAsking(false)}
        onConfirm={() => remark.mutate(seen.newest_key_number)}
      >
        <p>
          {seen.moves.length} of {seen.hand_ins} change. What you decided by hand stays, and the old
          markings stay on record.
        </p>
      </Confirm>
    </section>
  );
}
