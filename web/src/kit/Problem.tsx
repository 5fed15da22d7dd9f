/** A refusal in a form: the sentence, and what is wrong with each field. */
import { Alert } from "antd";
import { ApiProblem } from "../api/client";
import { sentence } from "../app/feedback";

export function Problem({ error, intro }: { error: unknown; intro?: string }) {
  if (error === null || error === undefined) return null;
  const fields = intro !== undefined && error instanceof ApiProblem ? error.fields : [];
  return (
    <Alert
      type="error"
      showIcon
      title={fields.length > 0 ? intro : sentence(error)}
      description={
        fields.length > 0 ? (
          <ul>
            {fields.map((field) => (
              <li key={field.path + field.problem}>
                <b>{placeOf(field.path)}</b> {field.problem}
              </li>
            ))}
          </ul>
        ) : undefined
      }
    />
  );
}

const FIELDS: Record<string, string> = { crank_deg: "stop", reading: "gap" };

/** `valve 8.reading` as people say it: `valve 8, gap`. */
function placeOf(path: string): string {
  // A path into a file is the file's own (`$.valves[3].role`).
  if (path.startsWith("$")) return path;
  return path.replace(/\.(\w+)/g, (_, field: string) => `, ${FIELDS[field] ?? field}`);
}
