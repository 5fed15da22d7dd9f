/** A practice run, from cover off to first start: engine, leaves, tools and notepad at hand. */
import { useQuery, useSuspenseQuery } from "@tanstack/react-query";
import { type ReactNode, useCallback, useEffect, useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { adviceQuery, cycleQuery } from "../api/queries";
import { Choice } from "../app/Choice";
import { Confirm } from "../app/Dialog";
import { KeySheet } from "../app/KeySheet";
import { PlateFacts } from "../app/PlateFacts";
import { useUnit } from "../app/session";
import { OpenForWork } from "../safety/OpenForWork";
import { Adjusting } from "./Adjusting";
import { Countdown } from "./Countdown";
import { CoverOff } from "./CoverOff";
import { type Ask, FeelPad } from "./FeelPad";
import { LeafSet } from "./LeafSet";
import { sumWords } from "./leaves";
import { Notepad } from "./Notepad";
import { StackHelp } from "./StackHelp";
import { Turning } from "./Turning";
import { PRACTICE_KEYS, usePracticeKeys } from "./usePracticeKeys";
import { type Running, useRun } from "./useRun";
import "./practice.css";

const PLACES = [
  { value: "feel", label: "Feel" },
  { value: "turn", label: "Turn" },
  { value: "adjust", label: "Adjust" },
  { value: "close", label: "Close up" },
] as const;
type Place = (typeof PLACES)[number]["value"];

export default function PracticePage() {
  const { runId = "" } = useParams();
  const running = useRun(Number(runId));
  const { run, view, act } = running;
  const { data: asMade } = useSuspenseQuery(cycleQuery(run.engine_id, run.engine_version));
  // This engine's marks are what is found on it, and need not be what its maker put there.
  const table = useMemo(
    () => ({ ...asMade, engine: { ...asMade.engine, marks: run.marks } }),
    [asMade, run.marks],
  );
  const unit = useUnit();
  const [valve, setValve] = useState(table.engine.valves[0]?.number ?? 1);
  const [inHand, hold] = useState<number[]>(() => [nearestToSpec(run.leaves_um, table)]);
  const [stacking, setStacking] = useState(false);
  const [place, setPlace] = useState<Place>("feel");
  const [sound, setSound] = useState(false);
  const [ask, setAsk] = useState<Ask>({ times: 0, nearOnly: false });
  const [late, setLate] = useState(run.until !== null && Date.now() > Date.parse(run.until));
  const [keysShown, setKeysShown] = useState(false);
  const work = { engineId: run.engine_id, version: run.engine_version, standId: null };
  const chosen = table.engine.valves.find((one) => one.number === valve);
  const numbers = table.engine.valves.map((one) => one.number);
  usePracticeKeys({
    act,
    table,
    view,
    valve,
    numbers,
    onValve: setValve,
    box: run.leaves_um,
    inHand,
    onHold: hold,
    onFeel: (nearOnly) => {
      setPlace("feel");
      setAsk(({ times }) => ({ times: times + 1, nearOnly: nearOnly && run.bridged }));
    },
    onKeys: () => setKeysShown(true),
  });
  const timeUp = useCallback(() => {
    setLate(true);
    setPlace("close");
  }, []);
  useEffect(() => {
    document.title = `${run.title} · Practice run · Edrix`;
  }, [run.title]);

  return (
    <div className="practice">
      <header className="card run-head">
        <div>
          <h1>{run.title}</h1>
          <p className="soft">
            {table.engine.name} · {LEVELS[run.level]}
          </p>
        </div>
        {run.until && !view.started && <Countdown until={run.until} onUp={timeUp} />}
        <PlateFacts engine={table.engine} />
        <button type="button" className="button" onClick={() => setKeysShown(true)}>
          Keys <kbd>?</kbd>
        </button>
      </header>
      {view.step === 0 && (
        <div className="card isolate">
          <OpenForWork {...work} part="opening" />
        </div>
      )}
      <CoverOff table={table} view={view} chosen={valve} onChoose={setValve} />
      <div className="hand-side">
        <Choice label="Tools" options={PLACES} value={place} onChoose={setPlace} />
        {place === "feel" && (
          <section className="card">
            <FeelPad
              valve={valve}
              leaves={inHand}
              unit={unit}
              sound={sound}
              bridged={run.bridged}
              ask={ask}
              act={act}
            />
            <label className="tick-line">
              <input
                type="checkbox"
                checked={sound}
                onChange={(event) => setSound(event.target.checked)}
              />
              with sound
            </label>
            <LeafSet
              box={run.leaves_um}
              inHand={inHand}
              unit={unit}
              stacking={stacking}
              onStacking={setStacking}
              onHold={hold}
            />
            {run.stack_help && <StackHelp runId={run.id} onHold={hold} />}
            {run.level === "shown" && (
              <Shown
                runId={run.id}
                valve={valve}
                step={view.step}
                inHand={inHand}
                onHold={hold}
                onShow={() => setAsk(({ times }) => ({ times: times + 1, nearOnly: false }))}
              />
            )}
          </section>
        )}
        {place === "turn" && <Turning table={table} view={view} act={act} />}
        {place === "adjust" && chosen && (
          <Adjusting
            key={valve}
            valve={valve}
            role={chosen.role}
            adjuster={run.adjusters[chosen.role]?.kind ?? "none"}
            torqueNm={run.adjusters[chosen.role]?.locknut_torque_nm ?? null}
            view={view}
            leaves={inHand}
            act={act}
            shimsAt={`/shims/${run.engine_id}?version=${run.engine_version}`}
          />
        )}
        {place === "close" && (
          <ClosingUp running={running} late={late}>
            <OpenForWork {...work} part="closing" />
          </ClosingUp>
        )}
      </div>
      <Said running={running} />
      <Notepad table={table} view={view} chosen={valve} onChoose={setValve} act={act} />
      <KeySheet
        open={keysShown}
        title="The run by keys"
        keys={PRACTICE_KEYS}
        onClose={() => setKeysShown(false)}
      />
    </div>
  );
}

const LEVELS: Record<string, string> = {
  shown: "shown: the next leaf is named",
  prompted: "prompted: asked before a mistake costs",
  alone: "alone: nothing is said until the end",
  test: "test: nothing is said, and the time counts",
};

/** The leaf to begin with: the nearest to the middle of the first spec, as the plate gives it. */
function nearestToSpec(
  box: readonly number[],
  table: { engine: { specs: { low_mm: number; high_mm: number }[] } },
): number {
  const spec = table.engine.specs[0];
  const middleUm = spec ? (spec.low_mm + spec.high_mm) * 500 : 250;
  return box.reduce(
    (best, leaf) => (Math.abs(leaf - middleUm) < Math.abs(best - middleUm) ? leaf : best),
    box[0] ?? 250,
  );
}

/** What was noticed, newest first; a question before a mistake; what could not be done. */
function Said({ running }: { running: Running }) {
  const { lines, problem, asked, waiting, act, retry, leave } = running;
  return (
    <section className="card said" aria-label="What happened">
      {asked && (
        <div className="notice calm" role="alert">
          <p>{asked.says}</p>
          <div className="ways">
            <button type="button" className="button main" onClick={leave}>
              I look again
            </button>
            <button type="button" className="button" onClick={() => act(asked.action, true)}>
              Do it all the same
            </button>
          </div>
        </div>
      )}
      {problem && (
        <div className="notice" role="alert">
          <p>{problem}</p>
          {waiting && (
            <button type="button" className="button" onClick={retry}>
              Send it again
            </button>
          )}
        </div>
      )}
      <ol aria-live="polite" reversed>
        {lines
          .slice(-6)
          .reverse()
          .map((line) => (
            <li key={line.step}>
              <span className="figures soft">{line.step}</span>{" "}
              {line.valve !== null && <b>valve {line.valve}:</b>} {line.says}
            </li>
          ))}
        {lines.length === 0 && (
          <li>The cover is off and the turning tool is on the crank. Begin by looking.</li>
        )}
      </ol>
    </section>
  );
}

type ShownProps = {
  runId: number;
  valve: number;
  step: number;
  inHand: number[];
  onHold: (leaves: number[]) => void;
  onShow: () => void;
};

/** The next leaf and what it proves, and the push itself, where the instructor has it shown. */
function Shown({ runId, valve, step, inHand, onHold, onShow }: ShownProps) {
  const unit = useUnit();
  const { data } = useQuery(adviceQuery(runId, valve, step));
  if (!data) return null;
  const leaves = data.leaves_mm?.map((leaf) => Math.round(leaf * 1000)) ?? null;
  return (
    <div className="notice calm">
      <p>{data.says}</p>
      {leaves && (
        <>
          <p className="soft">{data.proves}</p>
          {leaves.join() === inHand.join() ? (
            <button type="button" className="button" onClick={onShow}>
              Show me: push it in
            </button>
          ) : (
            <button type="button" className="button" onClick={() => onHold(leaves)}>
              Take {sumWords(leaves, unit)}
            </button>
          )}
        </>
      )}
    </div>
  );
}

type ClosingUpProps = { running: Running; late: boolean; children: ReactNode };

function ClosingUp({ running, late, children }: ClosingUpProps) {
  const { view, act, run } = running;
  const [asking, setAsking] = useState(false);
  if (view.started || late) {
    return (
      <section className="card closing">
        <h2>{view.started ? "The engine was started" : "The time is up"}</h2>
        <Link className="button main" to={`/debrief/${run.id}`}>
          See what happened, and why
        </Link>
      </section>
    );
  }
  return (
    <section className="card closing">
      <h2>Close up</h2>
      <p className="soft">
        Every lock nut rechecked, tools counted, the turning tool off the crank. The maker's manual
        and your instructor come first.
      </p>
      <div className="ways">
        <button type="button" className="button" onClick={() => act({ do: "count-tools" })}>
          Count leaves and tools {view.tools_counted && "✓"}
        </button>
        <button
          type="button"
          className="button"
          disabled={!view.tool_on}
          onClick={() => act({ do: "tool-off" })}
        >
          Turning tool off the crank {!view.tool_on && "✓"}
        </button>
        <button
          type="button"
          className="button"
          onClick={() => act({ do: "cover", on: !view.closed })}
        >
          {view.closed ? "Cover off again" : "Cover on"}
        </button>
        <button type="button" className="button main" onClick={() => setAsking(true)}>
          First start
        </button>
      </div>
      {children}
      <Confirm
        open={asking}
        title="Start the engine?"
        does="Start it"
        instead="Not yet"
        onClose={() => setAsking(false)}
        onConfirm={() => {
          setAsking(false);
          act({ do: "start" });
        }}
      >
        <p>The run ends with the first start; nothing can be measured or set after it.</p>
      </Confirm>
    </section>
  );
}
