/** What is told of a run, whether it was done here or came as a file. */

import { useState } from "react";
import type { Schemas } from "../api/client";
import { ListTable } from "../app/ListTable";
import { mm, thou } from "../app/lengths";
import { FAULTS } from "../app/practice-words";
import { useUnit } from "../app/session";
import { Words } from "../app/Words";
import { GradeCard } from "../marks/GradeCard";
import "./debrief.css";

type Debrief = Omit<Schemas["RunFileToldOut"], "engine" | "level" | "refused">;
type Props = { told: Debrief; heading: string; grade: Schemas["GradeOut"] | null };

export function DebriefView({ told, heading, grade }: Props) {
  const [all, setAll] = useState(false);
  const wrong = told.moments.filter((moment) => moment.wrong !== null);
  return (
    <>
      <section className={`card first-start ${told.outcome}`}>
        <h2>{heading}</h2>
        <p className="headline">{told.headline}</p>
        <ul>
          {told.consequences.map((one) => (
            <li key={one.says}>
              <Words text={one.says} />
            </li>
          ))}
        </ul>
        {told.later.length > 0 && (
          <>
            <h3>What nobody hears today</h3>
            <ul>
              {told.later.map((says) => (
                <li key={says}>{says}</li>
              ))}
            </ul>
          </>
        )}
        <NotChecked says={told.left_out ?? []} />
        {told.faults.length > 0 && (
          <p>
            Planted:{" "}
            {told.faults
              .map((f) => FAULTS[f.kind] + (f.valve === null ? "" : ` (valve ${f.valve})`))
              .join(", ")}
            .
          </p>
        )}
      </section>
      {grade && <GradeCard grade={grade} title="Grade of this run" />}
      <Judged told={told} />
      <Truths told={told} />
      <section className="card time-line">
        <h2>The run, step by step</h2>
        <p className="soft">
          {wrong.length === 0
            ? told.remarks?.length
              ? "No step was done in a wrong place or way. The remarks say what was left out."
              : "No step was done in a wrong place or way."
            : `${wrong.length} of ${told.moments.length} steps were not as they should be.`}
        </p>
        <Line moments={told.moments} />
        <button type="button" className="button" aria-pressed={all} onClick={() => setAll(!all)}>
          {all ? "Only what was wrong" : "Every step"}
        </button>
        <ol>
          {(all ? told.moments : wrong).map((moment) => (
            <li key={moment.step} className={moment.wrong ? "wrong" : undefined}>
              <span className="figures">{moment.step}</span>
              <div>
                <p>
                  <Words text={moment.says} />
                </p>
                {moment.wrong && (
                  <p className="why">
                    {moment.wrong} {moment.cost}
                  </p>
                )}
              </div>
            </li>
          ))}
        </ol>
      </section>
    </>
  );
}

/** Of runs that were told by rules which knew no remarks. */
function NotChecked({ says }: { says: readonly string[] }) {
  if (says.length === 0) return null;
  return (
    <>
      <h3>What was not checked</h3>
      <ul>
        {says.map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ul>
    </>
  );
}

/** What an instructor would say of the run: passed or not, what was wrong, what was done well. */
function Judged({ told }: { told: Debrief }) {
  const { passed, remarks = [], done_well: well = [] } = told;
  if (passed == null) return null;
  return (
    <section className="card judged" data-passed={passed}>
      <h2>{passed ? "Passed" : "Not passed"}</h2>
      {remarks.length === 0 && <p>There is nothing to add.</p>}
      <ul className="remarks">
        {remarks.map((one) => (
          <li key={`${one.kind} ${one.valves.join()} ${one.step}`}>
            <span className="figures soft">{one.step === null ? "end" : one.step}</span>
            <div>
              <p>
                <Words text={one.says} />
              </p>
              {one.led_to && <p className="why">{one.led_to}</p>}
            </div>
          </li>
        ))}
      </ul>
      {well.length > 0 && (
        <>
          <h3>Done well</h3>
          <ul>
            {well.map((says) => (
              <li key={says}>{says}</li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

/** The run as a line of ticks: each step, those that were wrong standing out by height and ink. */
function Line({ moments }: { moments: Debrief["moments"] }) {
  const count = Math.max(1, moments.length);
  return (
    <svg viewBox="0 0 1000 46" preserveAspectRatio="none" aria-hidden="true" className="line">
      <path className="base" d="M0,34H1000" />
      {moments.map((moment, index) => (
        <path
          key={moment.step}
          className={moment.wrong ? "tick wrong" : "tick"}
          d={`M${((index + 0.5) * 1000) / count},34V${moment.wrong ? 4 : 24}`}
        />
      ))}
    </svg>
  );
}

type Truth = Debrief["valves"][number];

type Show = (truth: Truth, name: string, lengthMm: number | null | undefined) => string;

/** A length in the words of the debrief; of one that was made under older rules, which has none, in
 * the reader's own unit. */
function useShown(): Show {
  const own = useUnit() === "mm" ? mm : thou;
  return (truth, name, lengthMm) => truth.shown?.[name] ?? (lengthMm == null ? "" : own(lengthMm));
}

/** Of valves that are pulled shut: the second gap, as it was found and left. */
function closingColumns(told: Debrief, shown: Show) {
  if (!told.valves.some((valve) => valve.closing_found_mm != null)) return [];
  return [
    {
      title: "Closing found",
      right: true,
      show: (v: Truth) => shown(v, "closing_found", v.closing_found_mm),
    },
    { title: "You wrote", show: (v: Truth) => v.closing ?? "" },
    {
      title: "Closing left",
      right: true,
      show: (v: Truth) => shown(v, "closing_left", v.closing_left_mm),
    },
  ];
}

function Truths({ told }: { told: Debrief }) {
  const shown = useShown();
  const running = {
    title: "Running",
    right: true,
    show: (v: Truth) => shown(v, "running", v.running_mm),
  };
  return (
    <section className="card truths">
      <h2>What it was, what you wrote</h2>
      <ListTable
        label="Clearances"
        rows={told.valves}
        keyOf={(valve) => valve.valve}
        columns={[
          { title: "Valve", show: (v) => v.valve },
          ...closingColumns(told, shown),
          { title: "Found", right: true, show: (v) => shown(v, "found", v.found_mm) },
          { title: "You wrote", show: (v) => [v.first, v.second].filter(Boolean).join(" · ") },
          { title: "Left", right: true, show: (v) => shown(v, "left", v.left_mm) },
          { title: "You wrote", show: (v) => v.after ?? "" },
          {
            title: "Within",
            show: (v) => (v.within ? "yes" : v.left_loose ? "no, left loose" : "no"),
          },
          ...(told.valves.some((v) => v.running_mm != null) ? [running] : []),
          { title: "Lock nut", show: (v) => shown(v, "nut", v.nut_moves_mm) },
        ]}
      />
      {told.rests_on?.map((says) => (
        <p key={says} className="soft">
          {says}
        </p>
      ))}
    </section>
  );
}
