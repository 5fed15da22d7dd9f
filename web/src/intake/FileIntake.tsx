/** A file of readings: how each column and row is understood, before anything is kept. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type DragEvent, useRef, useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { sentence } from "../app/feedback";
import { ListTable } from "../app/ListTable";
import { Taken } from "./Taken";

type Preview = Schemas["ImportPreviewOut"];

/** openapi-fetch sends what the serializer makes; the types know a file only as text. */
function form(file: File, digest?: string): FormData {
  const body = new FormData();
  body.append("file", file);
  if (digest !== undefined) body.append("digest", digest);
  return body;
}

export function FileIntake({ board }: { board: Schemas["BoardOut"] }) {
  const queries = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const picker = useRef<HTMLInputElement>(null);
  const params = { path: { sheet_id: board.id } };
  const look = useMutation({
    mutationFn: (chosen: File) =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/import/preview", {
          params,
          body: { file: chosen.name },
          bodySerializer: () => form(chosen),
        }),
      ),
  });
  const take = useMutation({
    mutationFn: ({ chosen, digest }: { chosen: File; digest: string }) =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/import", {
          params,
          body: { file: chosen.name, digest },
          bodySerializer: () => form(chosen, digest),
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["sheets", board.id] }),
  });
  function choose(chosen: File | undefined) {
    if (chosen === undefined) return;
    setFile(chosen);
    take.reset();
    look.mutate(chosen);
    // The same file, put right and chosen again, must be read again.
    if (picker.current) picker.current.value = "";
  }
  if (take.isSuccess) {
    return <Taken count={take.data.takes} sheetId={board.id} />;
  }
  return (
    <>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: dropping is a way besides the button */}
      <div
        className="drop"
        onDragOver={(event: DragEvent) => event.preventDefault()}
        onDrop={(event: DragEvent) => {
          event.preventDefault();
          choose(event.dataTransfer.files[0]);
        }}
      >
        <label className="button main">
          {file ? "Choose another file" : "Choose a file"}
          <input
            ref={picker}
            type="file"
            className="visually-hidden"
            accept=".csv,.txt,.xlsx,.json"
            onChange={(event) => choose(event.target.files?.[0])}
          />
        </label>
        <p className="soft">
          CSV or XLSX with a row for each valve, or a column for each valve (V1, V2, …), or a sheet
          file of Edrix. Nothing is kept before you have seen it.{" "}
          <a href={`/api/sheets/${board.id}/readings.csv`} download>
            Readings handed in so far
          </a>{" "}
          show the columns.
        </p>
      </div>
      <div aria-live="polite">
        {look.isPending && <p className="soft">Reading {file?.name}…</p>}
        {look.isError && (
          <p className="notice" role="alert">
            {sentence(look.error)}
          </p>
        )}
        {take.isError && (
          <p className="notice" role="alert">
            {sentence(take.error)}
          </p>
        )}
        {look.isSuccess && file && (
          <Seen
            seen={look.data}
            pending={take.isPending}
            onTake={() => take.mutate({ chosen: file, digest: look.data.digest })}
          />
        )}
      </div>
    </>
  );
}

type SeenProps = { seen: Preview; pending: boolean; onTake: () => void };

function Seen({ seen, pending, onTake }: SeenProps) {
  return (
    <>
      <section className="card seen">
        <h2>
          {seen.file_name}: {seen.rows} {seen.kind === "edrix-sheet/1" ? "sheets" : "rows"},{" "}
          {seen.refused_rows === 0 ? "none" : seen.refused_rows} refused
        </h2>
        {seen.notes.map((note) => (
          <p key={note} className="soft">
            {note}
          </p>
        ))}
        {seen.columns.length > 0 && <Columns columns={seen.columns} />}
      </section>
      {seen.refused.length > 0 && <Refused seen={seen} />}
      <section className="card seen">
        <h2>Students in this file</h2>
        <ListTable
          label="Students in this file"
          rows={seen.students}
          keyOf={(row) => row.student_id}
          columns={[
            { title: "Student", show: (row) => row.student },
            { title: "Valves", right: true, show: (row) => row.lines },
            { title: "What becomes of it", show: (row) => <Becomes row={row} /> },
          ]}
        />
        <button
          type="button"
          className="button main"
          disabled={pending || seen.takes === 0}
          onClick={onTake}
        >
          {pending
            ? "Taking in…"
            : `Take in ${seen.takes} ${seen.takes === 1 ? "sheet and mark it" : "sheets and mark them"}`}
        </button>
        {seen.takes === 0 && (
          <p className="soft">
            Nothing in this file can be taken in as it is. Put its rows right and choose it again.
          </p>
        )}
      </section>
    </>
  );
}

function Columns({ columns }: { columns: Preview["columns"] }) {
  return (
    <ul className="columns" aria-label="How each column is understood">
      {columns.map((column, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a heading may repeat; its place does not move
        <li key={place} data-used={column.means !== null}>
          <b>{column.title || "(no title)"}</b>
          <span>
            {column.means ?? column.note}
            {column.unit && `, ${column.unit}`}
          </span>
        </li>
      ))}
    </ul>
  );
}

function Refused({ seen }: { seen: Preview }) {
  const more = seen.refused_rows - seen.refused.length;
  return (
    <section className="card seen refused">
      <h2>Rows that are refused</h2>
      <ListTable
        label="Rows that are refused"
        rows={together(seen.refused)}
        keyOf={(row) => row.from}
        columns={[
          {
            title: seen.kind === "edrix-sheet/1" ? "Sheet" : "Row",
            show: (row) => (row.from === row.to ? row.from : `${row.from}–${row.to}`),
          },
          { title: "Of", show: (row) => row.who || "–" },
          { title: "Because it", show: (row) => row.why },
        ]}
      />
      {more > 0 && <p className="soft">and {more} more.</p>}
    </section>
  );
}

type Together = { from: number; to: number; who: string; why: string };

/** Rows that follow each other and are refused for the same reason, as one. */
function together(rows: Preview["refused"]): Together[] {
  const groups: Together[] = [];
  for (const { row, who, problems } of rows) {
    const last = groups.at(-1);
    const why = problems.join("; ");
    if (last && last.to === row - 1 && last.who === who && last.why === why) last.to = row;
    else groups.push({ from: row, to: row, who, why });
  }
  return groups;
}

function Becomes({ row }: { row: Schemas["ComerOut"] }) {
  if (row.left_out !== null) return <span className="fault">Left out: {row.left_out}.</span>;
  if (row.missing.length === 0) return <>taken in whole</>;
  return (
    <>
      taken in; valve{row.missing.length > 1 && "s"} {row.missing.join(", ")} left blank, without a
      point
    </>
  );
}
