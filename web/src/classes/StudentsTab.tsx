/** Students of a class: the list, adding a pasted one, new passcodes, who left. */
import { useMutation } from "@tanstack/react-query";
import { Button, Empty } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { Ask } from "../kit/Ask";
import { DataTable } from "../kit/DataTable";
import { Problem } from "../kit/Problem";
import { Named } from "../kit/Rename";
import { AddStudents } from "./AddStudents";
import { changeStudent } from "./changeStudent";
import { StudentLife } from "./StudentLife";
import { type NewStudent, usePasscodes } from "./usePasscodes";

type Student = Schemas["Student"];
type Row = Student & { left: boolean };

const hasLeft = (row: Row) => row.left;

export function StudentsTab({ found }: { found: Schemas["ClassOut"] }) {
  const passcodes = usePasscodes(found.id);
  const [adding, setAdding] = useState(false);
  const [asked, setAsked] = useState<Student | "everybody" | null>(null);
  const renew = useRenew(found.id, {
    onDone: passcodes.add,
    onEnd: () => setAsked(null),
  });
  const rows: Row[] = [
    ...found.students.map((student) => ({ ...student, left: false })),
    ...found.left.map((student) => ({ ...student, left: true })),
  ];
  const whose = asked === "everybody" ? "everybody" : (asked?.display_name ?? "");
  return (
    <div className="tab">
      <Problem error={renew.error} />
      <div className="ways">
        <Button type="primary" onClick={() => setAdding(true)}>
          Add students
        </Button>
        {found.students.length > 0 && (
          <Button onClick={() => setAsked("everybody")}>New passcodes for all</Button>
        )}
      </div>
      <DataTable
        label="Students"
        rows={rows}
        keyOf={(student) => student.id}
        away={hasLeft}
        awayWord="left the class"
        empty={<Empty description="No students yet. Add a pasted list, one name on each line." />}
        columns={[
          {
            title: "Student",
            show: (s: Row) => (
              <Named
                name={s.display_name}
                maxLength={120}
                about={`Signs in as ${s.sign_in_name}, as before.`}
                save={(name) => changeStudent(found.id, s.id, { name })}
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
            show: (s) => !s.left && <Button onClick={() => setAsked(s)}>New passcode</Button>,
          },
          {
            title: "More",
            right: true,
            show: (s) => <StudentLife classId={found.id} student={s} left={s.left} />,
          },
        ]}
      />
      <AddStudents
        classId={found.id}
        open={adding}
        onClose={() => setAdding(false)}
        onAdded={passcodes.add}
      />
      <Ask
        open={asked !== null}
        title={`New passcode for ${whose}?`}
        instead="Keep the old one"
        does="Make a new passcode"
        pending={renew.isPending}
        onClose={() => setAsked(null)}
        onConfirm={() => asked && renew.mutate(asked)}
      >
        <p>The old passcode ends at once, and so does every session with it.</p>
        {asked === "everybody" && (
          <p>Students whose account was made in another class keep the one that they have.</p>
        )}
      </Ask>
    </div>
  );
}

type RenewEnds = { onDone: (fresh: readonly NewStudent[]) => void; onEnd: () => void };

function useRenew(classId: number, { onDone, onEnd }: RenewEnds) {
  return useMutation({
    mutationFn: async (whose: Student | "everybody") => {
      if (whose === "everybody") {
        const all = { params: { path: { class_id: classId } } };
        return unwrap(api.POST("/api/classes/{class_id}/passcodes", all));
      }
      const one = { params: { path: { class_id: classId, student_id: whose.id } } };
      const path = "/api/classes/{class_id}/students/{student_id}/passcode";
      return [await unwrap(api.POST(path, one))];
    },
    onSuccess: onDone,
    onSettled: onEnd,
  });
}
