/** The log of a stand, newest first, a page at a time. */
import { useQuery } from "@tanstack/react-query";
import { Button, Empty, Pagination, Select } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { logQuery } from "../api/workshop";
import { Waiting } from "../app/feedback";
import { moment } from "../app/school";
import { Problem } from "../kit/Problem";
import { TakeLog } from "./TakeLog";
import { type HallStand, KINDS, type LogEntry, onMeter } from "./words";

type Props = { stand: HallStand; onCorrect: (entry: LogEntry) => void };

export function LogList({ stand, onCorrect }: Props) {
  const [page, setPage] = useState(1);
  const [kinds, setKinds] = useState<string[]>([]);
  const [size, setSize] = useState(50);
  const { data: log, error, isPending } = useQuery(logQuery(stand.id, (page - 1) * size, kinds));
  if (log && log.page !== size) setSize(log.page);
  return (
    <section className="card log" aria-label="Logbook">
      <header className="ways">
        <h2>Logbook</h2>
        <Select
          mode="multiple"
          allowClear
          aria-label="Kinds of entry"
          placeholder="every kind of entry"
          className="log-kinds"
          value={kinds}
          onChange={(next) => {
            setKinds(next);
            setPage(1);
          }}
          options={Object.entries(KINDS).map(([value, label]) => ({ value, label }))}
        />
        <span className="grow" />
        <TakeLog standId={stand.id} />
        {["csv", "xlsx", "pdf"].map((kind) => (
          <a key={kind} className="button" href={`/api/stands/${stand.id}/log.${kind}`}>
            {kind.toUpperCase()}
          </a>
        ))}
      </header>
      {isPending && <Waiting />}
      <Problem error={error} />
      {log?.total === 0 && (
        <Empty description="Nothing here yet. Keys and sheets come in by themselves; what else is done, write in the log." />
      )}
      <ol className="entries">
        {log?.entries.map((entry) => (
          <Entry
            key={entry.id}
            entry={entry}
            unit={stand.meter_unit}
            onCorrect={() => onCorrect(entry)}
          />
        ))}
      </ol>
      {log && log.total > log.page && (
        <Pagination
          current={page}
          pageSize={log.page}
          total={log.total}
          showSizeChanger={false}
          onChange={setPage}
        />
      )}
    </section>
  );
}

type EntryProps = { entry: LogEntry; unit: string; onCorrect: () => void };

function Entry({ entry, unit, onCorrect }: EntryProps) {
  const handIn = entry.source?.startsWith("hand-in ") ? entry.source.slice(8) : null;
  const corrected = entry.corrected_by !== null;
  return (
    <li className={corrected ? "corrected" : ""}>
      <p>
        <b>{KINDS[entry.what] ?? entry.what}</b> <span className="figures">{moment(entry.at)}</span>
        {entry.meter !== null && <span className="figures">, {onMeter(entry.meter, unit)}</span>}
        {entry.cold !== null && `, ${entry.cold ? "cold" : "warm"}`}, by {entry.by}
        {entry.written_by !== entry.by && (
          <span className="soft"> (written down by {entry.written_by})</span>
        )}
      </p>
      {entry.note !== "" && <p>{entry.note}</p>}
      {corrected && <p className="soft">Corrected by a later entry.</p>}
      {entry.corrects !== null && <p className="soft">Corrects an earlier entry.</p>}
      {entry.gaps.length > 0 && <Gaps gaps={entry.gaps} />}
      <p className="ways">
        {handIn !== null && <Link to={`/hand-in/${handIn}`}>Its sheet</Link>}
        {(entry.source === null || entry.source.startsWith("file ")) && !corrected && (
          <Button type="link" onClick={onCorrect}>
            Correct it
          </Button>
        )}
      </p>
    </li>
  );
}

function Gaps({ gaps }: { gaps: LogEntry["gaps"] }) {
  return (
    <ul className="log-gaps figures">
      {gaps.map((gap) => (
        <li key={gap.valve}>
          <b>{gap.valve}</b> {gap.found_typed || "–"}
          {gap.left_typed !== "" && <> → {gap.left_typed}</>}
          {gap.shim_mm !== null && <span className="soft"> shim {Number(gap.shim_mm)}</span>}
          {gap.reason !== "" && <span className="soft"> left as it is: {gap.reason}</span>}
        </li>
      ))}
    </ul>
  );
}
