/** One class: its students, its stands with their keys, its reading sheets, practice engines and drills. */

import { useSuspenseQuery } from "@tanstack/react-query";
import { Alert, Tabs } from "antd";
import { type ReactNode, Suspense } from "react";
import { Link, Navigate, useNavigate, useParams } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { classQuery } from "../api/queries";
import { Waiting } from "../app/feedback";
import { Desk } from "../kit/Desk";
import { Rename } from "../kit/Rename";
import { ClassLife } from "./ClassLife";
import { DrillsTab } from "./DrillsTab";
import { Passcodes } from "./Passcodes";
import { PracticeTab } from "./PracticeTab";
import { RotasTab } from "./RotasTab";
import { SheetsTab } from "./SheetsTab";
import { StandsTab } from "./StandsTab";
import { StudentsTab } from "./StudentsTab";
import { TakeClass } from "./TakeClass";
import "./classes.css";

type Found = Schemas["ClassOut"];

const PLACES: readonly { key: string; label: string; show: (found: Found) => ReactNode }[] = [
  { key: "students", label: "Students", show: (c) => <StudentsTab found={c} /> },
  { key: "stands", label: "Stands and keys", show: (c) => <StandsTab classId={c.id} /> },
  { key: "sheets", label: "Reading sheets", show: (c) => <SheetsTab classId={c.id} /> },
  { key: "practice", label: "Practice engines", show: (c) => <PracticeTab classId={c.id} /> },
  { key: "rotas", label: "Rota", show: (c) => <RotasTab classId={c.id} /> },
  { key: "drills", label: "Drills", show: (c) => <DrillsTab classId={c.id} /> },
];

export default function ClassPage() {
  const { classId = "", tab = "" } = useParams();
  const go = useNavigate();
  const id = Number(classId);
  const { data: found } = useSuspenseQuery(classQuery(id));
  if (!PLACES.some((place) => place.key === tab)) {
    return <Navigate to={`/classes/${id}/students`} replace />;
  }
  return (
    <Desk
      title={found.name}
      from={{ to: "/classes", title: "Classes" }}
      ways={
        <>
          <Link className="button main" to={`/classes/${id}/today`}>
            Today
          </Link>
          <Rename
            name={found.name}
            maxLength={120}
            save={(name) =>
              unwrap(
                api.PATCH("/api/classes/{class_id}", {
                  params: { path: { class_id: id } },
                  body: { name },
                }),
              )
            }
          >
            Rename
          </Rename>
          <TakeClass classId={id} />
          <ClassLife found={found} onRemoved={() => go("/classes")} />
        </>
      }
    >
      <Passcodes classId={id} />
      {found.away && (
        <Alert type="info" showIcon title="This class is put away: its students see none of it." />
      )}
      <Tabs
        activeKey={tab}
        onChange={(place) => go(`/classes/${id}/${place}`, { replace: true })}
        destroyOnHidden
        items={PLACES.map(({ key, label, show }) => ({
          key,
          label,
          children: <Suspense fallback={<Waiting />}>{key === tab && show(found)}</Suspense>,
        }))}
      />
    </Desk>
  );
}
