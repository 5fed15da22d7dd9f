/** One class: its students, its stands with their keys, its reading sheets. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Tabs } from "antd";
import { Suspense, useEffect } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { classQuery } from "../api/queries";
import { Waiting } from "../app/feedback";
import { Toolkit } from "../app/Toolkit";
import { SheetsTab } from "./SheetsTab";
import { StandsTab } from "./StandsTab";
import { StudentsTab } from "./StudentsTab";
import "./classes.css";

export default function ClassPage() {
  const { classId = "", tab = "students" } = useParams();
  const navigate = useNavigate();
  const id = Number(classId);
  const { data: found } = useSuspenseQuery(classQuery(id));
  useEffect(() => {
    document.title = `${found.name} · Edrix`;
  }, [found]);
  const inTab = (content: React.ReactNode) => <Suspense fallback={<Waiting />}>{content}</Suspense>;
  return (
    <Toolkit>
      <div className="classes">
        <div className="place-head">
          <div>
            <p>
              <Link to="/classes">Classes</Link>
            </p>
            <h1>{found.name}</h1>
          </div>
        </div>
        <Tabs
          activeKey={tab}
          onChange={(key) => navigate(`/classes/${id}/${key}`, { replace: true })}
          items={[
            {
              key: "students",
              label: `Students (${found.students.length})`,
              children: <StudentsTab classId={id} students={found.students} />,
            },
            {
              key: "stands",
              label: "Stands and keys",
              children: inTab(<StandsTab classId={id} />),
            },
            { key: "sheets", label: "Reading sheets", children: inTab(<SheetsTab classId={id} />) },
          ]}
        />
      </div>
    </Toolkit>
  );
}
