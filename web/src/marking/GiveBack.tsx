/** Grades that tell how far off a reading is wait until the instructor releases them. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Alert, Button } from "antd";
import { useState } from "react";
import { api, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { Ask } from "../kit/Ask";
import { Problem } from "../kit/Problem";

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
      queries.invalidateQueries({ queryKey: keys.sheet(sheetId) });
    },
  });
  return (
    <section aria-label="Grades wait">
      <Alert
        type="info"
        title="Students see their marks, but not yet their grades: what a reading is worth tells how far it lies from the key."
        action={<Button onClick={() => setAsking(true)}>Release grades</Button>}
      />
      <Problem error={give.error} />
      <Ask
        open={asking}
        title="Show students their grades?"
        does="Release grades"
        instead="Not yet"
        pending={give.isPending}
        onClose={() => setAsking(false)}
        onConfirm={() => give.mutate()}
      >
        <p>
          From then on anyone who has handed in can estimate the key. Wait until everybody has
          measured this stand. It can't be undone.
        </p>
      </Ask>
    </section>
  );
}
