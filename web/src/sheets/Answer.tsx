/** A student answers a mark, once; the instructor reads it beside the mark and decides. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { sheetQuery } from "../api/queries";
import { Choice } from "../app/Choice";
import { Dialog } from "../app/Dialog";
import { sentence } from "../app/feedback";

const MOST = 400;

type Props = { sheet: Schemas["SheetOut"]; marks: Schemas["ValveMarksOut"] };

export function Answer({ sheet, marks }: Props) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState<string | null>(null);
  const [text, setText] = useState("");
  const answerable = marks.marks.filter((mark) => !mark.answer);
  const wrong = answerable.filter((mark) => !mark.right);
  const mark = answerable.find(({ part }) => part === chosen) ?? wrong[0];
  const answer = useMutation({
    mutationFn: (to: string) =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/answers", {
          params: { path: { sheet_id: sheet.id } },
          body: { valve: marks.valve, part: to, text },
        }),
      ),
    onSuccess: (result) => {
      queries.setQueryData(sheetQuery(sheet.id).queryKey, { ...sheet, result });
      setOpen(false);
      setText("");
    },
  });
  if (mark === undefined) return null;
  return (
    <>
      <button type="button" className="button answer" onClick={() => setOpen(true)}>
        Answer<span className="visually-hidden"> a mark of valve {marks.valve}</span>
      </button>
      <Dialog
        open={open}
        title={`Valve ${marks.valve}: answer a mark`}
        onClose={() => setOpen(false)}
      >
        {open && (
          <form
            className="answer-form"
            onSubmit={(event: FormEvent) => {
              event.preventDefault();
              answer.mutate(mark.part);
            }}
          >
            <Choice
              label="Which mark"
              options={(wrong.length > 0 ? wrong : answerable).map(optionOf)}
              value={mark.part}
              onChoose={setChosen}
            />
            <p className="soft">{mark.says}</p>
            <label>
              What you think
              <textarea
                rows={3}
                maxLength={MOST}
                required
                value={text}
                onChange={(event) => setText(event.target.value)}
              />
            </label>
            <p className="soft">
              You can answer each mark once. Your instructor reads it and decides.
            </p>
            {answer.isError && (
              <p className="notice" role="alert">
                {sentence(answer.error)}
              </p>
            )}
            <div className="dialog-ways">
              <button type="button" className="button" onClick={() => setOpen(false)}>
                Not now
              </button>
              <button
                type="submit"
                className="button main"
                disabled={answer.isPending || text.trim() === ""}
              >
                Send this answer
              </button>
            </div>
          </form>
        )}
      </Dialog>
    </>
  );
}

function optionOf(mark: Schemas["MarkSays"]) {
  return { value: mark.part, label: mark.label };
}
