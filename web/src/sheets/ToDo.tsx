/** How far an own sheet is that the server does not have yet. */
import { near } from "../app/school";
import { usePerson } from "../app/session";
import { usePressed } from "./usePressed";

export function ToDo({ sheet }: { sheet: { id: number; closes_at: string | null } }) {
  const waiting = usePressed(usePerson().id);
  if (waiting.includes(sheet.id)) return <span className="tag">waits</span>;
  return (
    <span className="tag to-do">
      {sheet.closes_at === null ? "to do" : `due ${near(sheet.closes_at)}`}
    </span>
  );
}
