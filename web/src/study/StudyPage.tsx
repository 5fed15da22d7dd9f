/** The class as a measuring instrument: what spreads its readings, which student, which valve. */
import { useQuery, useSuspenseQuery } from "@tanstack/react-query";
import { Alert, Button, Checkbox, Collapse, Segmented } from "antd";
import { useParams, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { type StudiedGap, studyQuery, trialsQuery } from "../api/queries";
import { Waiting } from "../app/feedback";
import { day } from "../app/school";
import { type DataColumn, DataTable } from "../kit/DataTable";
import { Desk } from "../kit/Desk";
import { Problem } from "../kit/Problem";
import { Feel } from "../progress/Feel";
import { Hands } from "./Hands";
import { Hardest } from "./Hardest";
import { Variance } from "./Variance";
import "./study.css";

type Study = Schemas["StudyOut"];
type Trial = Schemas["TrialOut"];

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
  const id = Number(standId);
  const [search, setSearch] = useSearchParams();
  const gap = search.get("gap") === "closing" ? "closing" : "opening";
  const classId = Number(search.get("class")) || null;
  const { data: known } = useSuspenseQuery(trialsQuery(id, gap, classId));
  const chosen = (search.get("trials") ?? "").split(",").map(Number).filter(Boolean);
  const { data: study, error, isPending } = useQuery(studyQuery(id, chosen, gap, classId));
  const show = (next: StudiedGap, trials: readonly number[] = []) =>
    setSearch(
      {
        ...(classId !== null && { class: String(classId) }),
        ...(next === "closing" && { gap: next }),
        ...(trials.length > 0 && { trials: trials.join(",") }),
      },
      { replace: true },
    );
  return (
    <Desk
      title="The class as a measuring instrument"
      from={{ to: `/classes/${known.class_id}/stands`, title: known.stand }}
      about={
        study &&
        `${study.engine}: ${study.students} students, ${study.valves} valves, ${
          study.trials.length
        } trials (${study.trials.join(" · ")})`
      }
    >
      {known.gaps.length > 1 && (
        <Segmented<StudiedGap>
          aria-label="Which gap"
          className="which-gap"
          value={gap}
          onChange={(next) => show(next)}
          options={known.gaps.map((one) => ({ value: one, label: `${one} gap` }))}
        />
      )}
      {known.trials.length > 2 && (
        <Trials trials={known.trials} chosen={chosen} onChoose={(ids) => show(gap, ids)} />
      )}
      {isPending && <Waiting />}
      <Problem error={error} />
      {study && <Told study={study} />}
    </Desk>
  );
}

type TrialsProps = {
  trials: readonly Trial[];
  chosen: readonly number[];
  onChoose: (ids: number[]) => void;
};

/** Which sheets are compared: proposed by who has handed them in, and chosen otherwise here. */
function Trials({ trials, chosen, onChoose }: TrialsProps) {
  const proposed = trials.filter((one) => one.proposed).map((one) => one.id);
  return (
    <section className="card trials" aria-label="Trials">
      <b>Its trials</b>
      <Checkbox.Group
        value={chosen.length > 0 ? [...chosen] : proposed}
        onChange={(ids) => onChoose(ids as number[])}
        options={trials.map((one) => ({
          value: one.id,
          label: `${one.title}, ${day(one.set_at)} (${one.handed_in} handed in)`,
        }))}
      />
      {chosen.length > 0 && (
        <Button type="link" onClick={() => onChoose([])}>
          As proposed
        </Button>
      )}
    </section>
  );
}

function Told({ study }: { study: Study }) {
  return (
    <div className="study">
      {study.left_out.length > 0 && <LeftOut left={study.left_out} />}
      <section className="card says-it">
        <p className="categories">
          <b className="figures">{study.categories ?? "none"}</b> categories told apart
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
      {study.feel.length > 0 && <FeltBlind hands={study.feel} />}
      <Collapse
        items={[
          { key: "anova", label: "Analysis of variance", children: <Analysis study={study} /> },
        ]}
      />
    </div>
  );
}

/** Felt apart from any engine: the finest hand first. */
function FeltBlind({ hands }: { hands: Study["feel"] }) {
  return (
    <section className="card" aria-label="Felt blind">
      <h2>Felt blind</h2>
      {hands.map((hand) => (
        <div key={hand.student}>
          <h3>{hand.student}</h3>
          <Feel hand={hand} />
        </div>
      ))}
    </section>
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
