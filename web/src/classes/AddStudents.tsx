/** A class list as it is pasted, seen as it would be taken, then added. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Form, Input } from "antd";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { useSettled } from "../app/useSettled";
import { counted } from "../app/words";
import { Panel, PanelWays } from "../kit/Panel";
import { Problem } from "../kit/Problem";
import type { NewStudent } from "./usePasscodes";

type Seen = Schemas["SeenOut"];

type Props = {
  classId: number;
  open: boolean;
  onClose: () => void;
  onAdded: (added: NewStudent[]) => void;
};

export function AddStudents({ classId, open, onClose, onAdded }: Props) {
  const queries = useQueryClient();
  const [text, setText] = useState("");
  const seen = useSeen(classId, text);
  const wrong = seen.filter((line) => line.problem !== "").length;
  const add = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/classes/{class_id}/students", {
          params: { path: { class_id: classId } },
          body: { text },
        }),
      ),
    onSuccess: (added) => {
      queries.invalidateQueries({ queryKey: keys.classes });
      close();
      onAdded(added);
    },
  });
  function close() {
    setText("");
    add.reset();
    onClose();
  }
  const does = seen.length > 0 ? `Add ${counted(seen.length, "student")}` : "Add";
  return (
    <Panel open={open} title="Add students" typed={text.trim() !== ""} onClose={close} wide>
      <Form layout="vertical" className="panel-form" onFinish={() => add.mutate()}>
        <Form.Item
          label="Names"
          htmlFor="pasted"
          extra="One on each line, as you have them: Ines Falkner, or Baker, Tom. A sign-in name of your own may follow. Copied from a spreadsheet is fine."
        >
          <Input.TextArea
            id="pasted"
            autoFocus
            value={text}
            onChange={(event) => setText(event.target.value)}
            autoSize={{ minRows: 5, maxRows: 14 }}
            maxLength={20_000}
            placeholder={"Ines Falkner\nHallgrim, Bo\nSuvi Arnholt, suvi.a"}
            status={wrong > 0 ? "error" : ""}
          />
        </Form.Item>
        {seen.length > 0 && <SeenList seen={seen} />}
        <Problem error={add.error} intro="Nobody was added:" />
        <PanelWays
          does={wrong > 0 ? `${counted(wrong, "line")} to put right` : does}
          pending={add.isPending}
          waits={wrong > 0}
        />
      </Form>
    </Panel>
  );
}

function useSeen(classId: number, text: string): readonly Seen[] {
  const typed = useSettled(text);
  const { data } = useQuery({
    queryKey: keys.ofClass(classId, "roll", typed),
    queryFn: () =>
      unwrap(
        api.POST("/api/classes/{class_id}/roll/preview", {
          params: { path: { class_id: classId } },
          body: { text: typed },
        }),
      ),
    enabled: typed.trim() !== "",
    placeholderData: (before) => before,
    gcTime: 0,
  });
  return typed.trim() === "" ? [] : (data ?? []);
}

function SeenList({ seen }: { seen: readonly Seen[] }) {
  return (
    <table className="seen-list" aria-label="How the list is read">
      <thead>
        <tr>
          <th scope="col">Student</th>
          <th scope="col">Signs in as</th>
        </tr>
      </thead>
      <tbody>
        {seen.map((line) => (
          <tr key={line.number}>
            {line.display_name === "" ? (
              <td colSpan={2} className="fault">
                Line {line.number} {line.problem}
              </td>
            ) : (
              <>
                <td>
                  {line.display_name}
                  {line.says && <span className="says">{line.says}</span>}
                  {line.problem && <span className="fault says">{line.problem}</span>}
                </td>
                <td>
                  <span className="figures">{line.sign_in_name}</span>
                  {line.joins && !line.problem && (
                    <span className="says">has an account; joins with it</span>
                  )}
                </td>
              </>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
