/** One stand: how it is, what its logbook says of wear, and the log itself. */
import { useQuery, useSuspenseQuery } from "@tanstack/react-query";
import { Alert, Button, Checkbox } from "antd";
import { useState } from "react";
import { useParams } from "react-router";
import { hallQuery, trendQuery } from "../api/workshop";
import { Waiting } from "../app/feedback";
import { Desk } from "../kit/Desk";
import { Problem } from "../kit/Problem";
import { Rename } from "../kit/Rename";
import { changeStand } from "./changeStand";
import { LogForm } from "./LogForm";
import { LogList } from "./LogList";
import { StandFacts } from "./StandFacts";
import { TrendView } from "./TrendView";
import type { HallStand, LogEntry } from "./words";
import "./workshop.css";

export default function StandPage() {
  const { standId = "" } = useParams();
  const { data: stands } = useSuspenseQuery(hallQuery);
  const stand = stands.find((one) => one.id === Number(standId));
  if (stand === undefined || !stand.mine) {
    return (
      <Desk title="Stand" from={{ to: "/stands", title: "Stands" }}>
        <Alert
          type="info"
          showIcon
          title={
            stand
              ? `${stand.name} is used by ${stand.classes.join(", ") || "no class yet"}. Its logbook is open to the instructors there; let a class of yours use it, on that class's page.`
              : "There is no such stand in the hall."
          }
        />
      </Desk>
    );
  }
  return <Shown stand={stand} />;
}

function Shown({ stand }: { stand: HallStand }) {
  const [writing, setWriting] = useState<LogEntry | "new" | null>(null);
  return (
    <Desk
      title={stand.name}
      from={{ to: "/stands", title: "Stands" }}
      about={[stand.engine_name, stand.place].filter(Boolean).join(", ")}
      ways={
        <>
          <Rename name={stand.name} maxLength={80} save={(name) => changeStand(stand.id, { name })}>
            Rename
          </Rename>
          <a
            className="button"
            href={`/api/stands/${stand.id}/label.pdf`}
            target="_blank"
            rel="noreferrer"
          >
            Label to print
          </a>
          <Button type="primary" onClick={() => setWriting("new")}>
            Write in the log
          </Button>
        </>
      }
    >
      <StandFacts stand={stand} />
      <Trend stand={stand} />
      <LogList stand={stand} onCorrect={setWriting} />
      <LogForm
        key={writing === null || writing === "new" ? "new" : writing.id}
        stand={stand}
        open={writing !== null}
        corrects={writing === "new" ? null : writing}
        onClose={() => setWriting(null)}
      />
    </Desk>
  );
}

function Trend({ stand }: { stand: HallStand }) {
  const [withSheets, setWithSheets] = useState(false);
  const { data: trend, error, isPending } = useQuery(trendQuery(stand.id, withSheets));
  return (
    <section className="card trend" aria-label="Trend">
      <header className="ways">
        <h2>Where its gaps go</h2>
        <Checkbox checked={withSheets} onChange={(event) => setWithSheets(event.target.checked)}>
          Count what students found, too
        </Checkbox>
      </header>
      {isPending && <Waiting />}
      <Problem error={error} />
      {trend && <TrendView trend={trend} />}
    </section>
  );
}
