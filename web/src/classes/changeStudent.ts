/** Puts a student's name right, lets them leave or come back. */
import { api, type Schemas, unwrap } from "../api/client";

export function changeStudent(classId: number, studentId: number, body: Schemas["StudentChanges"]) {
  const place = { params: { path: { class_id: classId, student_id: studentId } } };
  return unwrap(api.PATCH("/api/classes/{class_id}/students/{student_id}", { ...place, body }));
}
