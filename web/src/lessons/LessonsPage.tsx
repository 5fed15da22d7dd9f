/** The school's lessons: held with a class, written, copied, printed, and read from a file. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Button, Empty, Select } from "antd";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { lessonQuery, lessonsQuery } from "../api/lessons";
import { classesQuery } from "../api/queries";
import { sentence } from "../app/feedback";
import { type DataColumn, DataTable } from "../kit/DataTable";
import { Desk } from "../kit/Desk";
import { Life } from "../kit/Life";
import "./lessons.css";

type Row = Schemas["LessonRow"];
const isAway = (row: Row) => row.away;

export default function LessonsPage() {
  const { data: lessons } = useSuspenseQuery(lessonsQuery);
  const { data: classes } = useSuspenseQuery(classesQuery);
  const taught = classes.filter((one) => one.role === "instructor" && !one.away);
  const [classId, setClassId] = useState(taught[0]?.id);
  const columns: readonly DataColumn<Row>[] = [
    {
      title: "Lesson",
      show: (row) => (
        <div className="lesson-name">
          <b>{row.title}</b>
          <span className="soft">
            {row.about} By {row.made_by}.
          </span>
        </div>
      ),
      sort: (row) => row.title,
      find: (row) => `${row.title} ${row.about} ${row.made_by}`,
    },
    { title: "Steps", right: true, show: (row) => row.steps, sort: (row) => row.steps },
    { title: "Min.", right: true, show: (row) => row.minutes, sort: (row) => row.minutes },
    {
      title: "Go to",
      show: (row) => <LessonWays row={row} classId={classId} />,
    },
    { title: "More", right: true, show: (row) => <LessonLife row={row} /> },
  ];
  return (
    <Desk
      title="Lessons"
      about="Written once, held again. Page Down goes on, with a clicker too."
      ways={
        <>
          <ReadFile />
          <Link className="button main" to="/lessons/new">
            Write a lesson
          </Link>
        </>
      }
    >
      {taught.length > 0 && (
        <p className="ways">
          <span id="held-with">Held with</span>
          <Select
            aria-labelledby="held-with"
            value={classId}
            onChange={setClassId}
            options={taught.map((one) => ({ value: one.id, label: one.name }))}
          />
        </p>
      )}
      <DataTable
        label="Lessons"
        rows={lessons}
        keyOf={(row) => row.id}
        columns={columns}
        away={isAway}
        empty={<Empty description="No lesson yet. Write one, or read a lesson file." />}
      />
    </Desk>
  );
}

function LessonWays({ row, classId }: { row: Row; classId: number | undefined }) {
  return (
    <span className="ways">
      <Link
        className="button"
        to={`/lesson/${row.id}?room=shop${classId === undefined ? "" : `&class=${classId}`}`}
      >
        Hold it
      </Link>
      {row.mine ? (
        <Link className="button" to={`/lessons/${row.id}`}>
          Change
        </Link>
      ) : (
        <CopyLesson row={row} />
      )}
      <a
        className="button"
        href={`/api/lessons/${row.id}/lesson.pdf`}
        target="_blank"
        rel="noreferrer"
      >
        Plan
      </a>
    </span>
  );
}

function useMade() {
  const queries = useQueryClient();
  const go = useNavigate();
  return (made: Schemas["LessonOut"]) => {
    queries.setQueryData(lessonQuery(made.id, null).queryKey, made);
    queries.invalidateQueries({ queryKey: keys.lessons, exact: true });
    go(`/lessons/${made.id}`);
  };
}

function CopyLesson({ row }: { row: Row }) {
  const queries = useQueryClient();
  const onMade = useMade();
  const copy = useMutation({
    mutationFn: async () => {
      const { document } = await queries.fetchQuery(lessonQuery(row.id, null));
      return unwrap(api.POST("/api/lessons", { body: { document } }));
    },
    onSuccess: onMade,
  });
  return (
    <Button size="large" loading={copy.isPending} onClick={() => copy.mutate()}>
      Take a copy
    </Button>
  );
}

function ReadFile() {
  const input = useRef<HTMLInputElement>(null);
  const onMade = useMade();
  const read = useMutation({
    mutationFn: async (file: File) => {
      let document: Record<string, unknown>;
      try {
        document = JSON.parse(await file.text());
      } catch {
        throw new Error(`${file.name} is no lesson file: it is not JSON.`);
      }
      return unwrap(api.POST("/api/lessons", { body: { document } }));
    },
    onSuccess: onMade,
  });
  return (
    <>
      <input
        ref={input}
        type="file"
        accept=".json,application/json"
        className="visually-hidden"
        aria-label="Lesson file"
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) read.mutate(file);
        }}
      />
      <button type="button" className="button" onClick={() => input.current?.click()}>
        Read a file
      </button>
      {read.error !== null && (
        <p className="notice" role="alert">
          {read.error.message || sentence(read.error)}
        </p>
      )}
    </>
  );
}

function LessonLife({ row }: { row: Row }) {
  const path = { params: { path: { lesson_id: row.id } } };
  return (
    <Life
      name={row.title}
      away={row.away}
      about="Nothing hangs on a lesson: what was asked in it stays with the class."
      more={[
        {
          key: "file",
          label: "Lesson file",
          onClick: () => {
            window.location.href = `/api/lessons/${row.id}/lesson.json`;
          },
        },
      ]}
      putAway={(away) => unwrap(api.PATCH("/api/lessons/{lesson_id}", { ...path, body: { away } }))}
      remove={() => unwrap(api.DELETE("/api/lessons/{lesson_id}", path))}
    />
  );
}
