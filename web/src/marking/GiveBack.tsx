/** Grades that tell how far off a reading is wait until the instructor releases them. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Alert, Button } from "antd";
import { useState } from "react";
import { ApiProblem, api, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { Ask } from "../kit/Ask";
import { Problem } from "../kit/Problem";

export function GiveBack({ sheetId }: { sheetId: number }) {
  const queries = useQueryClient();
  const [asking, setAsking] = useState(false);
  const give = useMutation({
    mutationFn: (confirmed: boolean) =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/give-back", {
          params: { path: { sheet_id: sheetId } },
          body: { confirmed },
        }),
      ),
    onError: (error) => {
      if (!isQuestion(error)) setAsking(false);
    },
    onSuccess: () => {
      setAsking(false);
      queries.invalidateQueries({ queryKey: keys.sheet(sheetId) });
    },
  });
  const open = isQuestion(give.error) ? give.error.fields : [];
  return (
    <section aria-label="Grades wait">
      <Alert
        type="info"
        title="Students see their marks, but not yet their grades: what a reading is worth tells how far it lies from the key."
        action={<Button onClick={() => setAsking(true)}>Release grades</Button>}
      />
      <Problem error={open.length > 0 ? null : give.error} />
      <Ask
        open={asking}
        title="Show students their grades?"
        does={open.length > 0 ? "Release all the same" : "Release grades"}
        danger={open.length > 0}
        instead="Not yet"
        pending={give.isPending}
        onClose={() => {
          setAsking(false);
          give.reset();
        }}
        onConfirm={() => give.mutate(open.length > 0)}
      >
        {open.length > 0 && (
          <Alert
            type="warning"
            showIcon
            title={`Still open, and marked by the same key: ${open.map((one) => one.path).join(", ")}. Close them first.`}
          />
        )}
        <p>
          From then on anyone who has handed in can estimate the key. Wait until everybody has
          measured this stand. It can't be undone.
        </p>
      </Ask>
    </section>
  );
}

function isQuestion(error: unknown): error is ApiProblem {
  return error instanceof ApiProblem && error.confirm;
}
