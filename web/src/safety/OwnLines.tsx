/** The school's own lines on an engine's lists: instructors add them, and take them off again. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { ownLinesQuery } from "../api/queries";
import type { components } from "../api/schema";
import { Choice } from "../app/Choice";
import { sentence } from "../app/feedback";

type Line = components["schemas"]["OwnLineOut"];

const ON = [
  { value: "opening", label: "before turning" },
  { value: "closing", label: "when done" },
] as const;
const SCOPE = [
  { value: "this", label: "this engine" },
  { value: "all", label: "every engine" },
] as const;

export function OwnLines({ engineId }: { engineId: number }) {
  const { data: lines } = useQuery(ownLinesQuery(engineId));
  const queries = useQueryClient();
  const [says, setSays] = useState("");
  const [on, setOn] = useState<(typeof ON)[number]["value"]>("opening");
  const [scope, setScope] = useState<(typeof SCOPE)[number]["value"]>("this");
  // A line may stand on the lists of every engine.
  const changed = () => queries.invalidateQueries({ queryKey: keys.eachEngine });
  const add = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/engines/{engine_id}/own-lines", {
          params: { path: { engine_id: engineId } },
          body: { on, says, all_engines: scope === "all" },
        }),
      ),
    onSuccess: () => {
      setSays("");
      changed();
    },
  });
  const remove = useMutation({
    mutationFn: (line: Line) =>
      unwrap(api.DELETE("/api/own-lines/{line_id}", { params: { path: { line_id: line.id } } })),
    // Taken off by mistake, it is one press from being back: its words stand in the form.
    onSuccess: (_, line) => {
      setSays(line.says);
      setOn(line.on);
      setScope(line.everywhere ? "all" : "this");
    },
    onSettled: changed,
  });
  const error = add.error ?? remove.error;
  return (
    <details className="own-lines">
      <summary>Lines of your own{lines?.length ? ` (${lines.length})` : ""}</summary>
      <ul>
        {lines?.map((line) => (
          <li key={line.id}>
            <span>
              {line.says}{" "}
              <span className="soft">
                {line.on === "opening" ? "before turning" : "when done"},{" "}
                {line.everywhere ? "every engine" : "this engine"}
              </span>
            </span>
            <button
              type="button"
              className="button"
              aria-label={`Take off: ${line.says}`}
              onClick={() => remove.mutate(line)}
            >
              Take off
            </button>
          </li>
        ))}
      </ul>
      <form
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          add.mutate();
        }}
      >
        <label>
          A line to tick
          <input
            className="field"
            value={says}
            maxLength={200}
            placeholder="Floor drain covered."
            onChange={(event) => setSays(event.target.value)}
          />
        </label>
        <Choice label="On which list" options={ON} value={on} onChoose={setOn} />
        <Choice label="For which engines" options={SCOPE} value={scope} onChoose={setScope} />
        <button type="submit" className="button" disabled={!says.trim() || add.isPending}>
          Add the line
        </button>
      </form>
      {error && (
        <p className="notice" role="alert">
          {sentence(error)}
        </p>
      )}
    </details>
  );
}
