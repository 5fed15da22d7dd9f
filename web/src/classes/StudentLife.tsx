/** A student leaves and comes back, or is taken out who was added by mistake. */
import { api, type Schemas, unwrap } from "../api/client";
import { Life } from "../kit/Life";
import { changeStudent } from "./changeStudent";

const PEOPLE = {
  away: "Leaves the class",
  back: "Comes back",
  wentAway: "has left; their record stays.",
  isBack: "is back.",
  remove: "Added by mistake…",
  asks: "Take out",
  keep: "Leave them in",
  does: "Take them out",
  warns:
    "For somebody who was added by mistake. Who has handed in or practised is refused here: let them leave, and their record stays.",
};

type Props = { classId: number; student: Schemas["Student"]; left: boolean };

export function StudentLife({ classId, student, left }: Props) {
  const place = { params: { path: { class_id: classId, student_id: student.id } } };
  return (
    <Life
      name={student.display_name}
      away={left}
      words={PEOPLE}
      putAway={(now) => changeStudent(classId, student.id, { left: now })}
      remove={() =>
        unwrap(api.DELETE("/api/classes/{class_id}/students/{student_id}/membership", place))
      }
    />
  );
}
