/** The instructor's classes: the list first, making one or bringing one in when asked for. */

import { useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Empty } from "antd";
import { Link, useNavigate } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { classesQuery } from "../api/queries";
import { usePerson } from "../app/session";
import { DataTable } from "../kit/DataTable";
import { Desk } from "../kit/Desk";
import { NewNamed } from "../kit/NewNamed";
import { PhonesCard } from "../school/PhonesCard";
import { BringClass } from "./BringClass";
import { ClassLife } from "./ClassLife";
import "./classes.css";

type Row = Schemas["ClassRow"];
const isAway = (row: Row) => row.away;

export default function ClassesPage() {
  const person = usePerson();
  const { data: classes } = useSuspenseQuery(classesQuery);
  const taught = classes.filter((row) => row.role === "instructor");
  return (
    <Desk
      title="Classes"
      ways={
        person.may_teach && (
          <>
            <BringClass />
            <NewClass />
          </>
        )
      }
    >
      {person.may_teach && <PhonesCard />}
      <DataTable
        label="Classes"
        rows={taught}
        keyOf={(row) => row.id}
        away={isAway}
        empty={<Empty description="No class yet. Make one; then add its students and stands." />}
        columns={[
          {
            title: "Class",
            show: (row: Row) => <Link to={`/classes/${row.id}`}>{row.name}</Link>,
            sort: (row) => row.name,
            find: (row) => row.name,
          },
          { title: "Students", right: true, show: (row) => row.students, sort: (r) => r.students },
          {
            title: "Go to",
            show: (row) => (
              <Link
                className="button"
                to={`/classes/${row.id}/today`}
                aria-label={`Today of ${row.name}`}
              >
                Today
              </Link>
            ),
          },
          { title: "More", right: true, show: (row) => <ClassLife found={row} /> },
        ]}
      />
    </Desk>
  );
}

function NewClass() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  return (
    <NewNamed
      title="New class"
      does="Make class"
      wanted="Give the class a name"
      placeholder="Pump crew, autumn intake"
      maxLength={120}
      make={(body: Schemas["NewClass"]) => unwrap(api.POST("/api/classes", { body }))}
      onMade={(made) => {
        queries.invalidateQueries({ queryKey: keys.classes });
        navigate(`/classes/${made.id}`);
      }}
    />
  );
}
