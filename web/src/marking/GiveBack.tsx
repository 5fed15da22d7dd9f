/** Grades that tell how far off a reading is wait until the instructor gives them back. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap } from "../api/client";
import { Confirm } from "../app/Dialog";
import { sentence } from "../app/feedback";

export function GiveBack({ sheetId }: { sheetId: number }) {
  const queries = useQueryClient();
  const [asking, setAsking] = useState(false);
  const give = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/give-back", { params: { path: { sheet_id: sheetId } } }),
      ),
    onSettled: () => {
      setAsking(false);
      queries.invalidateQueries({ queryKey: ["sheets", sheetId] });
    },
  });
  return (
    <section className="notice calm" aria-label="Grades wait">
      <p>
        Students see their marks, and not yet their grades: a reading's worth tells how far it lies
        from the key.{" "}
        <button type="button" className="button" onClick={() => setAsking(true)}>
          Give grades back
        </button>
      </p>
      {give.isError && <p role="alert">{sentence(give.error)}</p>}
      <Confirm
        open={asking}
        title="Show students their grades?"
        does="Give them back"
        instead="Not yet"
        pending={give.isPending}
        onClose={() => setAsking(false)}
        onConfirm={() => give.mutate()}
      >
        <p>
          From then on who has handed in can work out about where the key lies. Wait until everybody
          has measured this stand. It can't be taken back.
        </p>
      </Confirm>
    </section>
  );
}
