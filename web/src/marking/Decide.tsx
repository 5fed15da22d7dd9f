/** An instructor counts one mark otherwise, and says why; the student reads both. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { handInQuery } from "../api/queries";
import { Choice } from "../app/Choice";
import { Dialog } from "../app/Dialog";
import { sentence } from "../app/feedback";
import { MARKS, type MarkPart } from "../sheets/parts";
import "./marking.css";

const COUNTS = [
  { value: "right", label: "Count it right" },
  { value: "wrong", label: "Count it wrong" },
] as const;
const MOST = 300;

type Props = { handInId: number; marks: Schemas["ValveMarksOut"] };

export function Decide({ handInId, marks }: Props) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [part, setPart] = useState<MarkPart>(firstWrong(marks));
  const [counts, setCounts] = useState<"right" | "wrong">("right");
  const [reason, setReason] = useState("");
  const decide = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/hand-ins/{hand_in_id}/decisions", {
          params: { path: { hand_in_id: handInId } },
          body: { valve: marks.valve, part, right: counts === "right", reason },
        }),
      ),
    onSuccess: (told) => {
      queries.setQueryData(handInQuery(handInId).queryKey, told);
      setOpen(false);
      setReason("");
    },
  });
  return (
    <>
      <button
        type="button"
        className="button decide"
        onClick={() => {
          const wrong = firstWrong(marks);
          setPart(wrong);
          setCounts(marks[wrong]?.right ? "wrong" : "right");
          setOpen(true);
        }}
      >
        Decide otherwise<span className="visually-hidden"> for valve {marks.valve}</span>
      </button>
      <Dialog
        open={open}
        title={`Valve ${marks.valve}: count a mark otherwise`}
        onClose={() => setOpen(false)}
      >
        {open && (
          <form
            className="decide-form"
            onSubmit={(event: FormEvent) => {
              event.preventDefault();
              decide.mutate();
            }}
          >
            <Choice
              label="Which mark"
              options={MARKS.filter(({ value }) => marks[value])}
              value={part}
              onChoose={(chosen) => {
                setPart(chosen);
                setCounts(marks[chosen]?.right ? "wrong" : "right");
              }}
            />
            <p className="soft">{marks[part]?.says}</p>
            <Choice label="How it counts" options={COUNTS} value={counts} onChoose={setCounts} />
            <label>
              Because
              <textarea
                rows={3}
                maxLength={MOST}
                required
                value={reason}
                placeholder="Accepted at 0.01 over: the stand was warm."
                onChange={(event) => setReason(event.target.value)}
              />
            </label>
            <p className="soft">
              Your name, the time and the reason are kept and shown to the student. The rules' own
              mark stays on record.
            </p>
            {decide.isError && (
              <p className="notice" role="alert">
                {sentence(decide.error)}
              </p>
            )}
            <div className="dialog-ways">
              <button type="button" className="button" onClick={() => setOpen(false)}>
                Leave it as it is
              </button>
              <button
                type="submit"
                className="button main"
                disabled={decide.isPending || reason.trim() === ""}
              >
                Decide
              </button>
            </div>
          </form>
        )}
      </Dialog>
    </>
  );
}

/** What is most likely meant: a mark that was counted wrong. */
function firstWrong(marks: Schemas["ValveMarksOut"]): MarkPart {
  return MARKS.map((part) => part.value).find((part) => marks[part]?.right === false) ?? "reading";
}
