/** One step: what kind it is, and the fields that this kind has. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Button } from "antd";
import type { ReactNode } from "react";
import type { Field } from "../api/client";
import { questionKindsQuery } from "../api/now";
import { enginesQuery } from "../api/queries";
import { VIEWS } from "../bench/useBench";
import { has, KINDS, ofKind, problemAt, type Step, withField } from "./lesson";

type Props = {
  step: Step;
  place: number;
  /** Minutes from the start. */
  begins: number;
  fields: readonly Field[];
  isLast: boolean;
  onChange: (step: Step) => void;
  onMove: (by: -1 | 1) => void;
  onRemove: () => void;
};

export function StepForm(props: Props) {
  const { step, place, begins, fields, isLast, onChange, onMove, onRemove } = props;
  const told = (field: string) => problemAt(fields, place, field);
  const set = (field: string, value: unknown) => onChange(withField(step, field, value));
  const number = place + 1;
  return (
    <fieldset className="step-form">
      <legend>
        {number}. at {begins} min
      </legend>
      <Told label="Kind">
        <select
          className="field"
          value={step.kind}
          onChange={(event) => onChange(ofKind(step, event.target.value))}
        >
          {KINDS.map((kind) => (
            <option key={kind.value} value={kind.value}>
              {kind.label}
            </option>
          ))}
        </select>
      </Told>
      <Told label="Title" problem={told("title")}>
        <input
          className="field"
          maxLength={120}
          value={step.title}
          onChange={(event) => set("title", event.target.value)}
        />
      </Told>
      <Told label="Minutes" problem={told("minutes")}>
        <Figure value={step.minutes} onValue={(value) => set("minutes", value)} />
      </Told>
      <OwnFields {...props} />
      <Told label="On the wall, a line for each thought" problem={told("text")} wide>
        <textarea
          className="field"
          rows={3}
          maxLength={4000}
          value={String(step.text ?? "")}
          onChange={(event) => set("text", event.target.value)}
        />
      </Told>
      <Told label="Notes, for your own screen" problem={told("notes")} wide>
        <textarea
          className="field"
          rows={2}
          maxLength={4000}
          value={String(step.notes ?? "")}
          onChange={(event) => set("notes", event.target.value)}
        />
      </Told>
      <p className="ways">
        <Button size="large" disabled={place === 0} onClick={() => onMove(-1)}>
          Up<span className="visually-hidden"> with step {number}</span>
        </Button>
        <Button size="large" disabled={isLast} onClick={() => onMove(1)}>
          Down<span className="visually-hidden"> with step {number}</span>
        </Button>
        <Button size="large" disabled={place === 0 && isLast} onClick={onRemove}>
          Take out<span className="visually-hidden"> step {number}</span>
        </Button>
      </p>
    </fieldset>
  );
}

function OwnFields({ step, place, fields, onChange }: Props) {
  const { data: engines } = useSuspenseQuery(enginesQuery);
  const { data: kinds } = useSuspenseQuery(questionKindsQuery);
  const told = (field: string) => problemAt(fields, place, field);
  const set = (field: string, value: unknown) => onChange(withField(step, field, value));
  const engine = String(step.engine ?? "");
  const names = engines.filter((one) => !one.away).map((one) => one.name);
  return (
    <>
      {has(step, "engine") && (
        <Told label="Engine" problem={told("engine")}>
          <select
            className="field"
            value={engine}
            onChange={(event) => set("engine", event.target.value)}
          >
            <option value="">from the shelf</option>
            {(names.includes(engine) || engine === "" ? names : [engine, ...names]).map((name) => (
              <option key={name} value={name}>
                {name}
              </option>
            ))}
          </select>
        </Told>
      )}
      {has(step, "question") && (
        <Told label="Question" problem={told("question")}>
          <select
            className="field"
            value={String(step.question ?? "")}
            onChange={(event) => set("question", event.target.value)}
          >
            {kinds.map((kind) => (
              <option key={kind.id} value={kind.id}>
                {kind.title}
              </option>
            ))}
          </select>
        </Told>
      )}
      {has(step, "at_deg") && (
        <Told
          label={step.kind === "question" ? "Crank at (blank: a place by chance)" : "Crank at"}
          problem={told("at_deg")}
        >
          <Figure value={step.at_deg} onValue={(value) => set("at_deg", value)} />
        </Told>
      )}
      {has(step, "seconds") && (
        <Told label="Seconds to answer (blank: until I close it)" problem={told("seconds")}>
          <Figure value={step.seconds} onValue={(value) => set("seconds", value)} />
        </Told>
      )}
      {has(step, "view") && (
        <Told label="View" problem={told("view")}>
          <select
            className="field"
            value={String(step.view ?? "whole")}
            onChange={(event) => set("view", event.target.value)}
          >
            {VIEWS.map((view) => (
              <option key={view.value} value={view.value}>
                {view.label}
              </option>
            ))}
          </select>
        </Told>
      )}
      {has(step, "cover") && (
        <label className="step-cover">
          <input
            type="checkbox"
            checked={step.cover === true}
            onChange={(event) => set("cover", event.target.checked)}
          />
          Cover what tells
        </label>
      )}
      {has(step, "named") && (
        <Told
          label={step.kind === "sheet" ? "Title of the sheet" : "Title of the practice engine"}
          problem={told("named")}
        >
          <input
            className="field"
            maxLength={120}
            value={String(step.named ?? "")}
            onChange={(event) => set("named", event.target.value)}
          />
        </Told>
      )}
    </>
  );
}

type ToldProps = {
  label: string;
  problem?: string | undefined;
  wide?: boolean;
  children: ReactNode;
};

function Told({ label, problem, wide, children }: ToldProps) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is what it is given
    <label className={wide ? "step-field wide" : "step-field"}>
      <span>{label}</span>
      {children}
      {problem && <span className="field-problem">{problem}</span>}
    </label>
  );
}

/** A whole or broken figure; blank is none. */
function Figure({ value, onValue }: { value: unknown; onValue: (value: number | null) => void }) {
  return (
    <input
      className="field"
      type="number"
      inputMode="decimal"
      step="any"
      value={typeof value === "number" ? value : ""}
      onChange={(event) => onValue(event.target.value === "" ? null : Number(event.target.value))}
    />
  );
}
