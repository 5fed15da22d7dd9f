/** The isolation list before an engine is turned, and the closing list after: ticked and kept. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { cautionsQuery } from "../api/queries";
import { Choice } from "../app/Choice";
import { Failure, sentence } from "../app/feedback";
import { timeOfDay } from "../app/school";
import { usePerson } from "../app/session";
import { WordsHere } from "../app/WordsHere";
import { OwnLines } from "./OwnLines";
import "./safety.css";

type Props = {
  engineId: number;
  version: number | null;
  standId: number | null;
  /** On a long page the opening list stands at the head and the closing list at the foot. */
  part?: "both" | "opening" | "closing";
};
type Lines = Schemas["CautionOut"][];

export function OpenForWork({ engineId, version, standId, part = "both" }: Props) {
  const person = usePerson();
  const queries = useQueryClient();
  const query = cautionsQuery(engineId, version, standId);
  const cautions = useQuery(query);
  const [chosen, setChosen] = useState<string | null>(null);
  const kept = () => queries.invalidateQueries({ queryKey: query.queryKey });
  const open = useMutation({
    mutationFn: (body: { start: string; ticked: string[] }) =>
      unwrap(
        api.POST("/api/openings", {
          body: { engine_id: engineId, version, stand_id: standId, ...body },
        }),
      ),
    onSuccess: kept,
  });
  const close = useMutation({
    mutationFn: (body: { id: number; ticked: string[] }) =>
      unwrap(
        api.POST("/api/openings/{opening_id}/close", {
          params: { path: { opening_id: body.id } },
          body: { ticked: body.ticked },
        }),
      ),
    onSuccess: kept,
  });
  if (cautions.isError && !cautions.data) {
    return <Failure error={cautions.error} retry={() => cautions.refetch()} />;
  }
  // What is ticked must be what stands: a list that this device kept is shown only where the server
  // cannot be asked.
  const isKept = cautions.dataUpdatedAt < performance.timeOrigin;
  if (!cautions.data || (isKept && !cautions.isError)) return null;
  const { starts, current, defers } = cautions.data;
  const start = starts.find((s) => s.start === chosen) ?? starts[0];
  if (start === undefined) return null;
  const closing = (starts.find((s) => s.start === current?.start) ?? start).closing;
  const toClose = current !== null && current.closed_at === null && part !== "opening";
  if (part === "closing" && !toClose && !current?.closed_at) return null;
  return (
    <section className="safety" aria-label={TITLES[part]}>
      {current === null && (
        <>
          <h3>Before turning by hand</h3>
          <Choice
            label="How the engine is started"
            options={starts.map((s) => ({ value: s.start, label: s.says }))}
            value={start.start}
            onChoose={setChosen}
          />
          <TickList
            key={start.start}
            lines={start.lines}
            does="All done: open for work"
            pending={open.isPending}
            onDone={(ticked) => open.mutate({ start: start.start, ticked })}
          />
          {part === "both" && <PrintedClosing lines={closing} />}
        </>
      )}
      {current !== null && <Kept opening={current} part={part} />}
      {toClose && (
        <>
          <h3>When you are done</h3>
          <TickList
            lines={closing}
            does="All done: closed up"
            pending={close.isPending}
            onDone={(ticked) => close.mutate({ id: current.id, ticked })}
          />
        </>
      )}
      {(open.isError || close.isError) && (
        <p className="notice" role="alert">
          {sentence(open.error ?? close.error)}
        </p>
      )}
      {part !== "closing" && person.may_teach && <OwnLines engineId={engineId} />}
      {part !== "closing" && <p className="defers">{defers}</p>}
    </section>
  );
}

const TITLES = {
  both: "Before and after turning by hand",
  opening: "Before turning by hand",
  closing: "When you are done",
};

type KeptProps = { opening: Schemas["WorkOpeningOut"]; part: NonNullable<Props["part"]> };

function Kept({ opening, part }: KeptProps) {
  const said = [];
  if (part !== "closing") said.push(`Isolation list ticked at ${timeOfDay(opening.opened_at)}.`);
  if (part !== "opening" && opening.closed_at) {
    said.push(`Closing list ticked at ${timeOfDay(opening.closed_at)}.`);
  }
  if (said.length === 0) return null;
  return (
    <p className="notice calm" role="status">
      {said.join(" ")}
    </p>
  );
}

/** On paper both lists stand, whatever is ticked on the screen. */
function PrintedClosing({ lines }: { lines: Lines }) {
  return (
    <div className="print-only">
      <h3>When you are done</h3>
      <ul>
        {lines.map((line) => (
          <li key={line.id}>{line.says}</li>
        ))}
      </ul>
    </div>
  );
}

type TickListProps = {
  lines: Lines;
  does: string;
  pending: boolean;
  onDone: (ticked: string[]) => void;
};

function TickList({ lines, does, pending, onDone }: TickListProps) {
  const [ticked, setTicked] = useState<readonly string[]>([]);
  const toggle = (id: string) =>
    setTicked(ticked.includes(id) ? ticked.filter((t) => t !== id) : [...ticked, id]);
  const left = lines.length - ticked.length;
  return (
    <div className="tick-list">
      <ul>
        {lines.map((line) => (
          <li key={line.id}>
            <label>
              <input
                type="checkbox"
                checked={ticked.includes(line.id)}
                onChange={() => toggle(line.id)}
              />
              {line.says}
            </label>
          </li>
        ))}
      </ul>
      <WordsHere texts={lines.map((line) => line.says)} />
      <button
        type="button"
        className="button"
        disabled={left > 0 || pending}
        onClick={() => onDone([...ticked])}
      >
        {left > 0 ? `${left} to tick` : does}
      </button>
    </div>
  );
}
