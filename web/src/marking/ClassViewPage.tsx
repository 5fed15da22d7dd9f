/** A sheet of a whole class at a glance: who is wrong where, what explains it, and keys in doubt. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Alert, Segmented } from "antd";
import { useCallback, useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { classViewQuery } from "../api/queries";
import { Desk } from "../kit/Desk";
import { ClassGrid } from "./ClassGrid";
import {
  inOrderOf,
  letterOf,
  lettersOf,
  ORDERS,
  type Order,
  type Row,
  STATES,
  type View,
  wordsOf,
} from "./classView";
import { KeyDoubts } from "./KeyDoubts";
import "./classview.css";

export default function ClassViewPage() {
  const { sheetId = "" } = useParams();
  const { data: view } = useSuspenseQuery(classViewQuery(Number(sheetId)));
  const [order, setOrder] = useState<Order>("time");
  const [looked, setLooked] = useState<{ row: Row; at: number } | null>(null);
  const rows = useMemo(() => inOrderOf(view.rows, order), [view.rows, order]);
  const look = useCallback((row: Row, at: number) => setLooked({ row, at }), []);
  return (
    <Desk
      title="The class at a glance"
      from={{ to: `/board/${view.sheet_id}`, title: view.title }}
      about={aboutOf(view)}
    >
      <KeyDoubts doubts={view.doubts} />
      {view.rows.length === 0 ? (
        <Alert
          type="info"
          title="Nobody has handed in yet."
          description="Each sheet shows here as soon as it comes in."
        />
      ) : (
        <>
          <div className="class-ways">
            <Segmented
              aria-label="Order of the students"
              options={[...ORDERS]}
              value={order}
              onChange={(value) => setOrder(value)}
            />
            <Signs />
          </div>
          <p className="class-words" aria-live="polite">
            {looked ? (
              wordsOf(view, looked.row, looked.at, lettersAt(view, looked))
            ) : (
              <span className="soft">
                Touch a cell, or move with the arrows, to read what it says.
              </span>
            )}
          </p>
          <ClassGrid view={view} rows={rows} onLook={look} />
          <Groups view={view} />
        </>
      )}
    </Desk>
  );
}

function aboutOf(view: View): string {
  const many = view.rows.length === 1 ? "1 sheet" : `${view.rows.length} sheets`;
  return view.waits > 0 ? `${many} in, ${view.waits} still to come.` : `${many}, all handed in.`;
}

function lettersAt(view: View, { row, at }: { row: Row; at: number }): string {
  return lettersOf(view).get(`${row.hand_in_id}-${view.valves[at]?.number}`) ?? "";
}

function Signs() {
  return (
    <ul className="class-signs" aria-label="Signs">
      {Object.entries(STATES).map(([state, { sign, says }]) => (
        <li key={state}>
          <b data-state={state}>{sign}</b> {says}
        </li>
      ))}
    </ul>
  );
}

function Groups({ view }: { view: View }) {
  if (view.groups.length === 0) return null;
  const names = new Map(view.rows.map((row) => [row.hand_in_id, row.student]));
  return (
    <section className="card class-groups" aria-label="What explains the figures">
      <h2>What explains the figures</h2>
      <ol>
        {view.groups.map((group, at) => (
          <li key={group.kind}>
            <b className="class-letter">{letterOf(at)}</b>
            <div>
              <h3>
                {group.label}: {group.of.length === 1 ? "1 student" : `${group.of.length} students`}
              </h3>
              <p>{group.about}</p>
              <p>
                {group.of.map(({ hand_in_id, valves }, place) => (
                  <span key={hand_in_id}>
                    {place > 0 && ", "}
                    <Link to={`/hand-in/${hand_in_id}`}>{names.get(hand_in_id)}</Link>
                    {valves.length > 0 && valves.length < view.valves.length && (
                      <span className="soft"> ({valves.join(", ")})</span>
                    )}
                  </span>
                ))}
              </p>
            </div>
          </li>
        ))}
      </ol>
    </section>
  );
}
