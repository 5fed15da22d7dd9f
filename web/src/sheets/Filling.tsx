/** A sheet being filled in by a student, questioned, and handed in once. */

import type { Schemas } from "../api/client";
import { sentence } from "../app/feedback";
import { mm, thou } from "../app/lengths";
import { useMethod } from "../app/methods";
import { moment } from "../app/school";
import type { Sending } from "../app/sender";
import { OpenForWork } from "../safety/OpenForWork";
import { isDone } from "./lines";
import { Questions } from "./Questions";
import { faultsOf, useFilling } from "./useFilling";
import { ValveLine } from "./ValveLine";

type Sheet = Schemas["SheetOut"];

const SAVING: Record<Sending, string> = {
  saved: "Saved",
  saving: "Saving…",
  waiting: "Waiting for the network; kept on this device",
  refused: "Not saved; see below",
};

export function Filling({ sheet }: { sheet: Sheet }) {
  const { unit, draft, questions, form, handIn, waits, problem, lookAgain } = useFilling(sheet);
  const work = {
    engineId: sheet.engine_id,
    version: sheet.engine_version,
    standId: sheet.stand_id,
  };
  return (
    <>
      <Task sheet={sheet} />
      <Until sheet={sheet} />
      <OpenForWork {...work} part="opening" />
      <div ref={form} className="sheet-lines">
        {sheet.valves.map((valve, index) => {
          const line = draft.lines[index];
          return line === undefined ? null : (
            <ValveLine
              key={valve.number}
              valve={valve}
              line={line}
              stops={sheet.stops}
              columns={sheet.columns}
              doubt={Number(sheet.gauge_mm) > 0}
              unit={unit}
              faults={faultsOf(problem, valve.number)}
              clashes={draft.clashes.filter((clash) => clash.valve === valve.number)}
              onChange={(part) => draft.change(valve.number, part)}
            />
          );
        })}
      </div>
      <OpenForWork {...work} part="closing" />
      <footer className="hand-in">
        {problem && (
          <p className="notice" role="alert">
            {sentence(problem)}
          </p>
        )}
        {waits && <Waits onBack={() => draft.keepHandIn(null)} />}
        <div>
          <p>
            <b>
              {draft.lines.filter(isDone).length} of {sheet.valves.length}
            </b>{" "}
            valves complete
            <span className="soft" role="status">
              {SAVING[draft.saving]}
            </span>
          </p>
          {!waits && (
            <button
              type="button"
              className="button main"
              disabled={handIn.isPending || sheet.closed}
              onClick={() => handIn.mutate(false)}
            >
              {handIn.isPending ? "Handing in…" : "Hand in"}
            </button>
          )}
        </div>
      </footer>
      <Questions
        questions={questions}
        pending={handIn.isPending}
        onBack={lookAgain}
        onConfirm={() => handIn.mutate(true)}
      />
    </>
  );
}

/** It was pressed where there is no network: it goes by itself, and can be taken back until then. */
function Waits({ onBack }: { onBack: () => void }) {
  return (
    <p className="notice calm" role="status">
      Waits to be handed in: there is no way to the school's server now. It goes by itself, as the
      sheet stands then, when the network is back and Edrix is open on this device.{" "}
      <button type="button" className="button" onClick={onBack}>
        Not yet
      </button>
    </p>
  );
}

/** Until when it can be handed in, by the school's clock. */
function Until({ sheet }: { sheet: Sheet }) {
  if (sheet.closed) {
    return (
      <p className="notice" role="status">
        This sheet is closed{sheet.closes_at && ` since ${moment(sheet.closes_at)}`}. What you write
        is kept; to hand it in, ask your instructor to open it.
      </p>
    );
  }
  if (sheet.closes_at === null) return null;
  return (
    <p className="soft">
      Due <b>{moment(sheet.closes_at)}</b>; it closes then.
    </p>
  );
}

function Task({ sheet }: { sheet: Sheet }) {
  const method = useMethod(sheet.method);
  const [toleranceMm, gaugeMm] = [Number(sheet.tolerance_mm), Number(sheet.gauge_mm)];
  return (
    <p className="sheet-task">
      Measure each valve on its heel, and write the gap, the stop and your verdict. The stops are
      those of <b>{method.title.toLowerCase()}</b>; readings count within{" "}
      <span className="figures">
        ±{mm(toleranceMm)} (±{thou(toleranceMm)})
      </span>
      .
      {gaugeMm > 0 && (
        <>
          {" "}
          Gauge uncertainty <span className="figures">±{mm(gaugeMm)}</span>: nearer than that to a
          limit, <b>can't tell</b> is a right verdict.
        </>
      )}
    </p>
  );
}
