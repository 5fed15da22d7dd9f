/** Students of a class: the list, adding a pasted one, new passcodes. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { classesQuery, classQuery } from "../api/queries";
import { Confirm } from "../app/Dialog";
import { Empty, sentence } from "../app/feedback";
import { ListTable } from "../app/ListTable";

type Student = Schemas["Student"];
type NewStudent = Schemas["NewStudentOut"];

export function StudentsTab({ classId, students }: { classId: number; students: Student[] }) {
  const [shown, setShown] = useState<NewStudent[]>([]);
  const [asked, setAsked] = useState<Student | null>(null);
  const reset = useMutation({
    mutationFn: (student: Student) =>
      unwrap(
        api.POST("/api/classes/{class_id}/students/{student_id}/passcode", {
          params: { path: { class_id: classId, student_id: student.id } },
        }),
      ),
    onSuccess: (fresh) => setShown([fresh]),
    onSettled: () => setAsked(null),
  });
  return (
    <div className="tab">
      {shown.length > 0 && <Passcodes people={shown} onDone={() => setShown([])} />}
      {reset.isError && (
        <p className="notice" role="alert">
          {sentence(reset.error)}
        </p>
      )}
      <AddStudents classId={classId} onAdded={setShown} />
      {students.length === 0 ? (
        <Empty title="No students yet">Paste a list above, one name on each line.</Empty>
      ) : (
        <ListTable
          label="Students"
          rows={students}
          keyOf={(student) => student.id}
          columns={[
            {
              title: "Student",
              show: (student) => (
                <Link to={`/progress/${classId}/${student.id}`}>{student.display_name}</Link>
              ),
            },
            {
              title: "Sign-in name",
              show: (student) => <span className="figures">{student.sign_in_name}</span>,
            },
            {
              title: "Passcode",
              right: true,
              show: (student) => <Button onClick={() => setAsked(student)}>New passcode</Button>,
            },
          ]}
        />
      )}
      <Confirm
        open={asked !== null}
        title={`New passcode for ${asked?.display_name ?? ""}?`}
        instead="Keep the old one"
        does="Make a new passcode"
        pending={reset.isPending}
        onClose={() => setAsked(null)}
        onConfirm={() => asked && reset.mutate(asked)}
      >
        <p>The old passcode ends at once, and so does every session with it.</p>
      </Confirm>
    </div>
  );
}

function AddStudents({
  classId,
  onAdded,
}: {
  classId: number;
  onAdded: (n: NewStudent[]) => void;
}) {
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
      setText("");
      onAdded(added);
      queries.invalidateQueries(classQuery(classId));
      queries.invalidateQueries(classesQuery);
    },
  });
  const faults = add.error instanceof ApiProblem ? add.error.fields : [];
  return (
    <section className="card add-students">
      <label htmlFor="pasted">
        <h2>Add students</h2>
        <span className="soft">
          One on each line: a name, or a name and a sign-in name with a comma or tab between. Copied
          from a spreadsheet is fine.
        </span>
      </label>
      <Input.TextArea
        id="pasted"
        value={text}
        onChange={(event) => setText(event.target.value)}
        rows={4}
        maxLength={20_000}
        placeholder={"Ines Falkner\nBo Hallgrim, bo.h"}
        status={add.isError ? "error" : ""}
      />
      {add.isError && (
        <div className="notice" role="alert">
          {faults.length === 0 ? sentence(add.error) : "Nobody was added:"}
          <ul>
            {faults.map((fault) => (
              <li key={fault.path + fault.problem}>
                <b>{fault.path}</b> {fault.problem}
              </li>
            ))}
          </ul>
        </div>
      )}
      <Button
        type="primary"
        loading={add.isPending}
        disabled={text.trim() === ""}
        onClick={() => add.mutate()}
      >
        {add.isPending ? "Adding…" : "Add to class"}
      </Button>
    </section>
  );
}

function Passcodes({ people, onDone }: { people: NewStudent[]; onDone: () => void }) {
  return (
    <section className="notice calm passcodes" aria-label="Passcodes">
      <h2>Passcodes, shown this once: write them down or print this page</h2>
      <table>
        <tbody>
          {people.map((person) => (
            <tr key={person.id}>
              <th scope="row">{person.display_name}</th>
              <td className="figures">{person.sign_in_name}</td>
              <td className="figures">
                <b>{person.passcode ?? "has one already"}</b>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button onClick={() => window.print()}>Print</Button>{" "}
      <Button onClick={onDone}>I have them</Button>
    </section>
  );
}
