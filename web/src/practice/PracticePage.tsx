/** A practice run, from cover off to first start: engine, leaves, tools and notepad at hand. */
import { useEffect, useState } from "react";
import { useParams } from "react-router";
import type { GapKind } from "../api/queries";
import { Choice } from "../app/Choice";
import { FromTheManual } from "../app/FromTheManual";
import { KeySheet } from "../app/KeySheet";
import { PlateFacts } from "../app/PlateFacts";
import { levelInWords } from "../app/practice-words";
import { OpenForWork } from "../safety/OpenForWork";
import { Adjusting } from "./Adjusting";
import { Asked } from "./Asked";
import { ClosingUp } from "./ClosingUp";
import { Countdown } from "./Countdown";
import { CoverOff } from "./CoverOff";
import { CutOpen } from "./CutOpen";
import { FeelPad } from "./FeelPad";
import { LeafSet } from "./LeafSet";
import { Notepad } from "./Notepad";
import { Said } from "./Said";
import { Shown } from "./Shown";
import { SoundTick } from "./SoundTick";
import { StackHelp } from "./StackHelp";
import { Turning } from "./Turning";
import { type Practice, type Tool, usePractice } from "./usePractice";
import { PRACTICE_KEYS } from "./usePracticeKeys";
import { Walk } from "./Walk";
import "./practice.css";

const TOOLS: readonly { value: Tool; label: string }[] = [
  { value: "feel", label: "Feel" },
  { value: "turn", label: "Turn" },
  { value: "section", label: "Section" },
  { value: "adjust", label: "Adjust" },
  { value: "close", label: "Close up" },
];

export default function PracticePage() {
  const { runId = "" } = useParams();
  const practice = usePractice(Number(runId));
  const { running, run, view, act, table, valve, setValve, work } = practice;
  useEffect(() => {
    document.title = `${run.title} · Practice run · Edrix`;
  }, [run.title]);
  return (
    <div className="practice">
      <RunHead practice={practice} />
      {view.step === 0 && (
        <div className="card isolate">
          <OpenForWork {...work} part="opening" />
        </div>
      )}
      <CoverOff table={table} view={view} chosen={valve} onChoose={setValve} />
      <div className="hand-side">
        {run.level === "shown" && <Walk practice={practice} />}
        <Choice
          label="Tools"
          options={toolsOf(view)}
          value={practice.tool}
          onChoose={practice.setTool}
        />
        {practice.gaps.length > 1 && (practice.tool === "feel" || practice.tool === "adjust") && (
          <Choice
            label={`Which gap of valve ${valve}`}
            options={practice.gaps.map((value) => ({ value, label: gapCalled(practice, value) }))}
            value={practice.gap}
            onChoose={practice.setGap}
          />
        )}
        <Asked running={running} />
        <InHand practice={practice} />
      </div>
      <Said running={running} turningIsOn={practice.table.engine.turning_is_on} />
      <Notepad
        table={table}
        adjusters={run.adjusters}
        view={view}
        chosen={valve}
        onChoose={setValve}
        act={act}
      />
      <div className="card run-manual">
        <FromTheManual engine={table.engine} />
      </div>
      <KeySheet
        open={practice.keysShown}
        title="The run by keys"
        keys={PRACTICE_KEYS}
        onClose={() => practice.setKeysShown(false)}
      />
    </div>
  );
}

function RunHead({ practice }: { practice: Practice }) {
  const { run, view, table } = practice;
  return (
    <header className="card run-head">
      <div>
        <h1>{run.title}</h1>
        <p className="soft">
          {table.engine.name} · {levelInWords(run.level)}
        </p>
      </div>
      {run.until && !view.started && <Countdown until={run.until} onUp={practice.timeUp} />}
      <PlateFacts engine={table.engine} />
      <button type="button" className="button for-keys" onClick={() => practice.setKeysShown(true)}>
        Shortcuts <kbd>?</kbd>
      </button>
    </header>
  );
}

/** The section tells the stroke: it is there only where everything is shown. */
function toolsOf(view: Practice["view"]) {
  return TOOLS.filter(({ value }) => value !== "section" || view.cam_deg !== null);
}

/** A brake's lash is set at its stop; what is felt elsewhere is another gap. */
function gapCalled({ gaps }: Practice, gap: GapKind): string {
  if (gap === "opening") return gaps.includes("running") ? "Lash at the stop" : "Opening gap";
  return gap === "closing" ? "Closing gap" : "Running gap";
}

/** The tool that is out. */
function InHand({ practice }: { practice: Practice }) {
  const { running, run, view, act, table, valve, chosen, work } = practice;
  if (practice.tool === "turn") return <Turning table={table} view={view} act={act} />;
  if (practice.tool === "close") {
    return (
      <ClosingUp
        running={running}
        turningOff={practice.table.engine.turning_off}
        late={practice.late}
      >
        <OpenForWork {...work} part="closing" />
      </ClosingUp>
    );
  }
  if (practice.tool === "section" && chosen && view.cam_deg !== null) {
    return <CutOpen table={table} number={chosen.cylinder} camDeg={view.cam_deg} />;
  }
  if (practice.tool === "feel") return <Feeling practice={practice} />;
  if (!chosen) return null;
  const train = practice.table.engine.trains[chosen.role];
  return (
    <Adjusting
      key={`${valve} ${practice.gap}`}
      valve={valve}
      role={chosen.role}
      adjuster={run.adjusters[chosen.role]?.kind ?? "none"}
      torqueNm={run.adjusters[chosen.role]?.locknut_torque_nm ?? null}
      codes={run.adjusters[chosen.role]?.codes ?? {}}
      camsOut={run.adjusters[chosen.role]?.cams_out ?? false}
      place={run.adjusters[chosen.role]?.place ?? null}
      gap={practice.gap}
      wiggled={train?.wiggles ? train.part : null}
      view={view}
      setByLeaf={practice.setByLeaf}
      act={act}
      shimsAt={`/shims/${run.engine_id}?version=${run.engine_version}`}
    />
  );
}

function Feeling({ practice }: { practice: Practice }) {
  const { run, view, act, table, valve, chosen, inHand, hold, ask, onAsked, feel } = practice;
  const unit = run.leaf_unit;
  const [stacking, setStacking] = useState(false);
  const [sound, setSound] = useState(false);
  const train = chosen && table.engine.trains[chosen.role];
  return (
    <section className="card">
      <FeelPad
        valve={valve}
        gap={practice.gap}
        leaves={inHand}
        bodyUm={practice.bodyUm}
        angled={practice.angled}
        unit={unit}
        part={train?.part ?? "rocker"}
        sound={sound}
        bridged={run.bridged.includes(practice.valve)}
        ask={ask}
        onAsked={onAsked}
        act={act}
      />
      <div className="feel-ways">
        {train?.push && (
          <button type="button" className="button" onClick={() => act({ do: "push", valve })}>
            {chosen?.role === "brake" ? "Push back to its detent" : train.push} <kbd>P</kbd>
          </button>
        )}
        <SoundTick on={sound} onTick={setSound} />
      </div>
      <LeafSet
        box={run.leaves_um}
        inHand={inHand}
        unit={unit}
        labels={run.leaf_labels}
        steps={run.steps_um}
        bodyUm={practice.bodyUm}
        onStep={practice.takeStep}
        angledBox={run.angled_um}
        angled={practice.angled}
        onAngled={practice.takeAngled}
        stacking={stacking}
        onStacking={setStacking}
        onHold={hold}
      />
      {run.stack_help && <StackHelp runId={run.id} unit={unit} onHold={hold} />}
      {/* Where the shown job is about another valve than the one in hand. */}
      {run.level === "shown" && practice.shownValve !== valve && (
        <Shown
          runId={run.id}
          valve={valve}
          gap={practice.gap}
          step={view.step}
          inHand={inHand}
          unit={unit}
          onHold={hold}
          onShow={() => feel(false)}
        />
      )}
    </section>
  );
}
