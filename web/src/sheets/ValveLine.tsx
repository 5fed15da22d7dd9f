/** One valve of a sheet: reading, stop, verdict. Made for a thumb. */

import { useId, useState } from "react";
import type { Schemas } from "../api/client";
import { Badge } from "../app/Badge";
import { Choice } from "../app/Choice";
import { FigureInput } from "../app/FigureInput";
import { figureOf, isNoFigure } from "../app/figures";
import { degrees, inOtherUnit } from "../app/lengths";
import type { Unit } from "../app/session";
import { ValveSketch } from "../bench/ValveSketch";
import { Clashes } from "./Clashes";
import type { Clash } from "./draft";
import { Further } from "./Further";
import { isDone, isFigure, type Line } from "./lines";

const VERDICTS = [
  { value: "tight", label: "Tight" },
  { value: "within", label: "Within" },
  { value: "loose", label: "Loose" },
];
const DOUBT = { value: "cannot-tell", label: "Can't tell" };
const UNITS = (["mm", "thou"] as const).map((value) => ({ value, label: value }));

type Props = {
  valve: Schemas["SheetValve"];
  line: Line;
  stops: readonly Schemas["StopChoice"][];
  /** What the sheet asks for besides reading, stop and verdict. */
  columns: readonly Schemas["ColumnOut"][];
  /** Whether it may be said that the gauge cannot tell. */
  doubt: boolean;
  unit: Unit;
  faults: Record<string, string>;
  /** What another device wrote here meanwhile. */
  clashes: readonly Clash[];
  onChange: (part: Partial<Line>) => void;
};

export function ValveLine(props: Props) {
  const { valve, line, stops, columns, doubt, unit, faults, clashes, onChange } = props;
  const faultId = useId();
  const told = Object.values(faults);
  return (
    <fieldset className={`card sheet-line ${valve.role}`} data-done={isDone(line)}>
      <legend className="visually-hidden">Valve {valve.number}</legend>
      <div className="sheet-line-head">
        <Badge number={valve.number} role={valve.role} />
        <p>
          <b>
            Cylinder {valve.cylinder} {valve.role}
            {valve.label && `, ${valve.label}`}
          </b>
          <span className="figures spec">
            {valve.says} <span>{valve.says_other}</span>
            {valve.closing && <span>closing {valve.closing.says}</span>}
          </span>
        </p>
        <ValveSketch train={valve.train} size={34} />
        <span className="line-done" aria-hidden="true">
          {isDone(line) ? "✓" : ""}
        </span>
      </div>
      <Reading
        line={line}
        valve={valve.number}
        fault={faults.reading}
        faultId={faultId}
        onChange={onChange}
      />
      <StopChoice
        line={line}
        stops={stops}
        fault={faults.stop}
        valve={valve.number}
        onChange={onChange}
      />
      <Choice
        label={`Verdict for valve ${valve.number}`}
        options={doubt ? [...VERDICTS, DOUBT] : VERDICTS}
        value={line.verdict}
        onChoose={(verdict) => onChange({ verdict })}
      />
      <Further
        columns={columns.filter((column) => valve.columns.includes(column.name))}
        valve={valve.number}
        line={line}
        unit={unit}
        faults={faults}
        faultId={faultId}
        onChange={onChange}
      />
      <Clashes clashes={clashes} columns={columns} line={line} onChange={onChange} />
      <div id={faultId} role="alert">
        {told.map((text) => (
          <p key={text} className="fault">
            {text}
          </p>
        ))}
      </div>
    </fieldset>
  );
}

type ReadingProps = Pick<Props, "line" | "onChange"> & {
  valve: number;
  fault: string | undefined;
  faultId: string;
};

function Reading({ line, valve, fault, faultId, onChange }: ReadingProps) {
  const unit: Unit = line.unit === "thou" ? "thou" : "mm";
  return (
    <div className="reading">
      <FigureInput
        id={`reading-${valve}`}
        placeholder="gap"
        aria-label={`Reading of valve ${valve}`}
        wrong={fault !== undefined}
        aria-describedby={faultId}
        value={line.reading}
        onType={(reading) => onChange({ reading })}
      />
      <Choice
        label={`Unit for valve ${valve}`}
        options={UNITS}
        value={unit}
        onChoose={(chosen) => onChange({ unit: chosen })}
      />
      {line.reading.trim() === "" || isFigure(line.reading) ? (
        <span className="figures soft other-unit">{inOtherUnit(line.reading, unit)}</span>
      ) : (
        <span className="fault">no figure yet</span>
      )}
    </div>
  );
}

type StopProps = Pick<Props, "line" | "stops" | "onChange"> & {
  valve: number;
  fault: string | undefined;
};

const MOST_BUTTONS = 4;

function StopChoice({ line, stops, fault, valve, onChange }: StopProps) {
  const offered = stops.some((stop) => stop.crank_deg === line.crank_deg);
  const [own, setOwn] = useState(line.crank_deg !== null && !offered);
  const choose = (value: string) => {
    setOwn(value === "own");
    onChange({ crank_deg: value === "" || value === "own" ? null : Number(value) });
  };
  return (
    <div className="stop-choice">
      {stops.length <= MOST_BUTTONS ? (
        <Choice
          label={`Stop for valve ${valve}`}
          options={[
            ...stops.map((stop) => ({
              value: String(stop.crank_deg),
              label: (
                <>
                  Stop {stop.stop} <span className="figures">{degrees(stop.crank_deg)}</span>
                </>
              ),
            })),
            { value: "own", label: "Other" },
          ]}
          value={own ? "own" : line.crank_deg === null ? null : String(line.crank_deg)}
          onChoose={choose}
        />
      ) : (
        <select
          className="field"
          aria-label={`Stop for valve ${valve}`}
          value={own ? "own" : (line.crank_deg ?? "")}
          onChange={(event) => choose(event.target.value)}
        >
          <option value="">at which stop?</option>
          {stops.map((stop) => (
            <option key={stop.stop} value={stop.crank_deg}>
              Stop {stop.stop} · {degrees(stop.crank_deg)}
            </option>
          ))}
          <option value="own">another angle</option>
        </select>
      )}
      {own && <OwnAngle line={line} fault={fault} valve={valve} onChange={onChange} />}
    </div>
  );
}

/** Crank degrees as typed, with point or comma; what is no angle stays, and is told. */
function OwnAngle({ line, fault, valve, onChange }: Omit<StopProps, "stops">) {
  const [typed, setTyped] = useState(line.crank_deg === null ? "" : String(line.crank_deg));
  const isWrong = isNoFigure(typed);
  return (
    <>
      <FigureInput
        maxLength={12}
        placeholder="crank degrees"
        aria-label={`Crank degrees for valve ${valve}`}
        wrong={fault !== undefined}
        value={typed}
        onType={(text) => {
          setTyped(text);
          onChange({ crank_deg: figureOf(text) });
        }}
      />
      {isWrong && <p className="fault">“{typed}” is no angle: write degrees, like 12.5</p>}
    </>
  );
}
