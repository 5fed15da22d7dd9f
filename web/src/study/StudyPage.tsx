/** The class as a measuring instrument: what spreads its readings, which student, which valve. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Alert, Collapse } from "antd";
import { useParams } from "react-router";
import type { Schemas } from "../api/client";
import { studyQuery } from "../api/queries";
import { type DataColumn, DataTable } from "../kit/DataTable";
import { Desk } from "../kit/Desk";
import { Hands } from "./Hands";
import { Hardest } from "./Hardest";
import { Variance } from "./Variance";
import "./study.css";

type Study = Schemas["StudyOut"];

const ANALYSIS: readonly DataColumn<Schemas["AnovaRowOut"]>[] = [
  { title: "Source", show: (row) => row.source },
  { title: "Degrees of freedom", right: true, show: (row) => row.df },
  { title: "Sum of squares, µm²", right: true, show: (row) => row.ss_um2.toFixed(1) },
  { title: "Mean square, µm²", right: true, show: (row) => row.ms_um2.toFixed(1) },
  { title: "F", right: true, show: (row) => row.f?.toFixed(2) ?? "" },
  { title: "p", right: true, show: (row) => row.p?.toPrecision(2) ?? "" },
];

export default function StudyPage() {
  const { standId = "" } = useParams();
  const { data: study } = useSuspenseQuery(studyQuery(Number(standId)));
  return (
    <Desk
      title="The class as a measuring instrument"
      from={{ to: `/classes/${study.class_id}/stands`, title: study.stand }}
      about={`${study.engine}: ${study.students} students, ${study.valves} valves, ${
        study.trials.length
      } trials (${study.trials.join(" · ")})`}
    >
      <div className="study">
        {study.left_out.length > 0 && <LeftOut left={study.left_out} />}
        <section className="card says-it">
          <p className="categories">
            <b className="figures">{study.categories}</b> categories told apart
          </p>
          <ul>
            {study.says.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </section>
        <Variance study={study} />
        <Hands study={study} />
        <Hardest study={study} />
        <Collapse
          items={[
            { key: "anova", label: "Analysis of variance", children: <Analysis study={study} /> },
          ]}
        />
      </div>
    </Desk>
  );
}

function LeftOut({ left }: { left: Study["left_out"] }) {
  const names = left.map(({ student, why }) => `${student} (${why})`).join("; ");
  return <Alert type="warning" showIcon title={`Left out: ${names}.`} />;
}

function Analysis({ study }: { study: Study }) {
  return (
    <>
      <DataTable
        label="Analysis of variance"
        rows={study.anova}
        keyOf={(row) => row.source}
        columns={ANALYSIS}
      />
      <p className="soft">
        Crossed random effects; components from the expected mean squares, negative ones taken as
        zero. {study.pooled && "The interaction is pooled into repeatability."} Intervals: Student's
        t for the bias, chi squared for the repeatability.
      </p>
    </>
  );
}
