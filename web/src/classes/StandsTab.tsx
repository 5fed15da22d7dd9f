/** Stands of a class: real practice engines, each with its key. */

import { useQuery, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Alert, Button, Drawer, Empty, Input } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { cycleQuery, standsQuery } from "../api/queries";
import { Badge } from "../app/Badge";
import { FromTheManual } from "../app/FromTheManual";
import { mm } from "../app/lengths";
import { PlateFacts } from "../app/PlateFacts";
import { day, moment } from "../app/school";
import { EngineField } from "../kit/EngineField";
import { Life } from "../kit/Life";
import { NewNamed } from "../kit/NewNamed";
import { Named } from "../kit/Rename";
import { OpenForWork } from "../safety/OpenForWork";
import { changeStand } from "../workshop/changeStand";
import { KeyForm } from "./KeyForm";
import { UseStand } from "./UseStand";
import { withUnit } from "./useKeyForm";

type Stand = Schemas["StandOut"];
/** A stand whose key is entered; correct: beginning with the gaps of its newest key. */
type Measured = { stand: Stand; correct: boolean };

const SEARCHED_FROM = 6;

export function StandsTab({ classId }: { classId: number }) {
  const { data: all } = useSuspenseQuery(standsQuery(classId));
  const [measured, setMeasured] = useState<Measured | null>(null);
  const [typed, setTyped] = useState("");
  const [asked, setAsked] = useState(false);
  const out = all.filter((stand) => stand.away).length;
  const kept = all.filter((stand) => stand.away === (asked && out > 0));
  const wanted = typed.trim().toLowerCase();
  const stands = kept.filter((stand) =>
    `${stand.name} ${stand.engine_name}`.toLowerCase().includes(wanted),
  );
  return (
    <div className="tab">
      <div className="ways">
        <NewStand classId={classId} />
        <UseStand classId={classId} used={all.map((stand) => stand.id)} />
        {kept.length >= SEARCHED_FROM && (
          <Input.Search
            allowClear
            value={typed}
            className="find-stand"
            placeholder="Find a stand"
            aria-label="Find a stand"
            onChange={(event) => setTyped(event.target.value)}
          />
        )}
        {out > 0 && (
          <Button type="link" onClick={() => setAsked(!asked)}>
            {asked ? "Back to the stands" : `${out} put away`}
          </Button>
        )}
      </div>
      {wanted !== "" && stands.length === 0 && (
        <p className="soft">No stand is called that. Clear the search to see all.</p>
      )}
      {all.length === 0 && (
        <Empty description="No stand yet. A stand is a practice engine in your workshop: name one, then enter its key, the gaps as you measured them." />
      )}
      {stands.map((stand) => (
        <StandCard
          key={stand.id}
          classId={classId}
          stand={stand}
          onMeasure={(correct) => setMeasured({ stand, correct })}
        />
      ))}
      <Drawer
        open={measured !== null}
        title={`Key of ${measured?.stand.name ?? ""}`}
        size={760}
        closable={false}
        mask={{ closable: false }}
        keyboard={false}
        destroyOnHidden
      >
        {measured && (
          <>
            <OpenForWork
              engineId={measured.stand.engine_id}
              version={measured.stand.engine_version}
              standId={measured.stand.id}
            />
            <KeyForm
              stand={measured.stand}
              correct={measured.correct}
              classId={classId}
              onClose={() => setMeasured(null)}
            />
          </>
        )}
      </Drawer>
    </div>
  );
}

type CardProps = { classId: number; stand: Stand; onMeasure: (correct: boolean) => void };

function StandCard({ classId, stand, onMeasure }: CardProps) {
  const use = { params: { path: { class_id: classId, stand_id: stand.id } } };
  return (
    <section className="card stand">
      <header>
        <div>
          <h2>
            <Named
              name={stand.name}
              maxLength={80}
              save={(name) => changeStand(stand.id, { name })}
            >
              {stand.name}
            </Named>
          </h2>
          <p className="soft">
            {stand.engine_name}
            {stand.place && `, ${stand.place}`}
            {stand.shared && ". Another class uses it, too."}
          </p>
        </div>
        {stand.key && (
          <Link className="button" to={`/study/${stand.id}?class=${classId}`}>
            Gauge study
          </Link>
        )}
        <Button type={stand.key ? "default" : "primary"} onClick={() => onMeasure(false)}>
          {stand.key ? "Measure again" : "Enter the key"}
        </Button>
        {stand.key && <Button onClick={() => onMeasure(true)}>Correct the key</Button>}
        <Link className="button" to={`/stand/${stand.id}`}>
          Logbook
        </Link>
        <Life
          name={stand.name}
          away={stand.away}
          about="It stays in the hall, and its sheets and their marks stay here."
          putAway={(away) =>
            unwrap(
              api.PATCH("/api/classes/{class_id}/stands/{stand_id}", { ...use, body: { away } }),
            )
          }
          remove={() =>
            unwrap(
              api.DELETE("/api/stands/{stand_id}", { params: { path: { stand_id: stand.id } } }),
            )
          }
        />
      </header>
      {stand.stale && stand.adjusted_at && (
        <Alert
          type="warning"
          showIcon
          title={`Adjusted ${moment(stand.adjusted_at)} by ${stand.adjusted_by}, after its key was measured: measure it again before the next pair.`}
        />
      )}
      {stand.key ? (
        <KeyShown stand={stand} />
      ) : (
        <p className="soft">No key yet, so no sheet can be set for it.</p>
      )}
      <Manual stand={stand} />
    </section>
  );
}

/** The manual's page of its engine, fetched when somebody asks for it. */
function Manual({ stand }: { stand: Stand }) {
  const [asked, setAsked] = useState(false);
  const table = useQuery({
    ...cycleQuery(stand.engine_id, stand.engine_version),
    enabled: asked,
  });
  if (table.data) {
    return (
      <>
        <PlateFacts engine={table.data.engine} />
        <FromTheManual engine={table.data.engine} open />
      </>
    );
  }
  return (
    <Button
      type="link"
      className="from-manual"
      loading={table.isFetching}
      onClick={() => setAsked(true)}
    >
      Spec, torques, parts and tools of this engine
    </Button>
  );
}

const ORIGINS: Record<string, (key: Schemas["KeyOut"]) => string> = {
  passes: (key) => `, from ${key.gaps[0]?.passes.length ?? 0} passes by ${key.note}`,
  adjusted: (key) => `, as left by ${key.note}`,
};

function KeyShown({ stand }: { stand: Stand }) {
  if (!stand.key) return null;
  return (
    <>
      <p className="soft">
        Key {stand.key.number}, {day(stand.key.made_at)} by {stand.key.made_by}
        {Number(stand.key.uncertainty_mm) > 0 &&
          `, each gap known to ±${mm(Number(stand.key.uncertainty_mm))}`}
        {ORIGINS[stand.key.origin]?.(stand.key) ?? ""}
      </p>
      <ul className="key">
        {stand.valves.map((valve) => {
          const gap = stand.key?.gaps.find((g) => g.valve === valve.number);
          return (
            <li key={valve.number} className={valve.role}>
              <Badge number={valve.number} role={valve.role} size={34} />
              <span className="figures">{gap ? withUnit(gap.typed, gap.unit) : "–"}</span>
              <b>{gap && gap.verdict !== "within" ? gap.verdict : ""}</b>
            </li>
          );
        })}
      </ul>
    </>
  );
}

function NewStand({ classId }: { classId: number }) {
  const queries = useQueryClient();
  return (
    <NewNamed
      title="New stand"
      does="Add stand"
      wanted="Give the stand a name"
      placeholder="Stand 4"
      maxLength={80}
      make={(body: Schemas["NewStand"]) =>
        unwrap(
          api.POST("/api/classes/{class_id}/stands", {
            params: { path: { class_id: classId } },
            body,
          }),
        )
      }
      onMade={() => queries.invalidateQueries({ queryKey: keys.ofClass(classId, "stands") })}
    >
      <EngineField wanted="Choose its engine" />
    </NewNamed>
  );
}
