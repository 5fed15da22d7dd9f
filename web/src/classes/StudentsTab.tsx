/** Students of a class: the list, adding a pasted one, new passcodes. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Empty, Form, Input } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { Ask } from "../kit/Ask";
import { DataTable } from "../kit/DataTable";
import { Panel, PanelWays } from "../kit/Panel";
import { Problem } from "../kit/Problem";
import { Named } from "../kit/Rename";
import { Passcodes } from "./Passcodes";

type Student = Schemas["Student"];
type NewStudent = Schemas["NewStudentOut"];

export function StudentsTab({ found }: { found: Schemas["ClassOut"] }) {
  const [shown, setShown] = useState<NewStudent[]>([]);
  const [adding, setAdding] = useState(false);
  const [asked, setAsked] = useState<Student | null>(null);
  const reset = useResetPasscode(found.id, {
    onDone: (fresh) => setShown([fresh]),
    onEnd: () => setAsked(null),
  });
  return (
    <div className="tab">
      {shown.length > 0 && <Passcodes people={shown} onDone={() => setShown([])} />}
      <Problem error={reset.error} />
      <div className="ways">
        <Button type="primary" onClick={() => setAdding(true)}>
          Add students
        </Button>
      </div>
      <DataTable
        label="Students"
        rows={found.students}
        keyOf={(student) => student.id}
        empty={<Empty description="No students yet. Add a pasted list, one name on each line." />}
        columns={[
          {
            title: "Student",
            show: (s: Student) => (
              <Named
                name={s.display_name}
                maxLength={120}
                about={`Signs in as ${s.sign_in_name}, as before.`}
                save={(name) => renameStudent(found.id, s.id, name)}
              >
                <Link to={`/progress/${found.id}/${s.id}`}>{s.display_name}</Link>
              </Named>
            ),
            sort: (s) => s.display_name,
            find: (s) => s.display_name,
          },
          {
            title: "Sign-in name",
            show: (s) => <span className="figures">{s.sign_in_name}</span>,
            sort: (s) => s.sign_in_name,
            find: (s) => s.sign_in_name,
          },
          {
            title: "Passcode",
            right: true,
            show: (s) => <Button onClick={() => setAsked(s)}>New passcode</Button>,
          },
        ]}
      />
      <AddStudents
        classId={found.id}
        open={adding}
        onClose={() => setAdding(false)}
        onAdded={setShown}
      />
      <Ask
        open={asked !== null}
        title={`New passcode for ${asked?.display_name ?? ""}?`}
        instead="Keep the old one"
        does="Make a new passcode"
        pending={reset.isPending}
        onClose={() => setAsked(null)}
        onConfirm={() => asked && reset.mutate(asked)}
      >
        <p>The old passcode ends at once, and so does every session with it.</p>
      </Ask>
    </div>
  );
}

function renameStudent(classId: number, studentId: number, name: string) {
  return unwrap(
    api.PATCH("/api/classes/{class_id}/students/{student_id}", {
      params: { path: { class_id: classId, student_id: studentId } },
      body: { name },
    }),
  );
}

type ResetEnds = { onDone: (fresh: NewStudent) => void; onEnd: () => void };

function useResetPasscode(classId: number, { onDone, onEnd }: ResetEnds) {
  return useMutation({
    mutationFn: (student: Student) =>
      unwrap(
        api.POST("/api/classes/{class_id}/students/{student_id}/passcode", {
          params: { path: { class_id: classId, student_id: student.id } },
        }),
      ),
    onSuccess: onDone,
    onSettled: onEnd,
  });
}

type AddProps = {
  classId: number;
  open: boolean;
  onClose: () => void;
  onAdded: (added: NewStudent[]) => void;
};

function AddStudents({ classId, open, onClose, onAdded }: AddProps) {
  const queries = useQueryClient();
  const [text, setText] = useState("");
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
  return (
    <Panel open={open} title="Add students" typed={text.trim() !== ""} onClose={close}>
      <Form layout="vertical" className="panel-form" onFinish={() => add.mutate()}>
        <Form.Item
          label="Names"
          htmlFor="pasted"
          extra="One on each line: a name, or a name and a sign-in name with a comma or tab between. Copied from a spreadsheet is fine."
        >
          <Input.TextArea
            id="pasted"
            value={text}
            onChange={(event) => setText(event.target.value)}
            autoSize={{ minRows: 6, maxRows: 20 }}
            maxLength={20_000}
            placeholder={"Ines Falkner\nBo Hallgrim, bo.h"}
            status={add.isError ? "error" : ""}
          />
        </Form.Item>
        <Problem error={add.error} intro="Nobody was added:" />
        <PanelWays does="Add to class" pending={add.isPending} />
      </Form>
    </Panel>
  );
}
