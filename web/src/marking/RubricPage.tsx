/** The rubric of a sheet: weights typed on the left, what they make of everybody on the right. */
import { useMutation, useQuery, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { useDeferredValue, useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { rubricLookQuery, rubricQuery } from "../api/queries";
import { sentence } from "../app/feedback";
import { ListTable } from "../app/ListTable";
import { inOtherUnit, mm } from "../app/lengths";
import { GradeCard, percent } from "../sheets/GradeCard";
import { PART_NAMES, PART_SAYS } from "../sheets/parts";
import "./marking.css";
import "./rubric.css";

type Rubric = Schemas["RubricIn"];
/** As typed: a weight that is blank leaves its part out. */
type Typed = {
  weights: Record<string, string>;
  whole: Record<string, boolean>;
  pass: string;
  zero: string;
  minutes: string;
};

export default function RubricPage() {
  const { sheetId = "" } = useParams();
  const { data: sheet } = useSuspenseQuery(rubricQuery(Number(sheetId)));
  useEffect(() => {
    document.title = `Rubric · ${sheet.title} · Edrix`;
  }, [sheet]);
  return (
    <div className="board">
      <div className="place-head">
        <div>
          <p>
            <Link to={`/board/${sheet.sheet_id}`}>{sheet.title}</Link>
          </p>
          <h1>Rubric</h1>
          <p>
            What the marks are worth together.{" "}
            {sheet.number === 0
              ? "Nobody has weighed anything yet: every mark counts alike."
              : `Rubric ${sheet.number}, by ${sheet.made_by}.`}
          </p>
        </div>
      </div>
      <Form key={sheet.number} sheet={sheet} />
    </div>
  );
}

function Form({ sheet }: { sheet: Schemas["RubricOut"] }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const [typed, setTyped] = useState<Typed>(() => asTyped(sheet.rubric));
  const rubric = useDeferredValue(asRubric(typed));
  const look = useQuery(rubricLookQuery(sheet.sheet_id, rubric));
  const set = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/rubric", {
          params: { path: { sheet_id: sheet.sheet_id } },
          body: { rubric: asRubric(typed), based_on: sheet.number },
        }),
      ),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: ["sheets", sheet.sheet_id] });
      queries.invalidateQueries({ queryKey: ["hand-ins"] });
      go(`/board/${sheet.sheet_id}`);
    },
  });
  const parts = Object.keys(PART_NAMES).filter(
    (part) =>
      !(part === "adjusted" && !sheet.asks.includes("nut")) &&
      !(part === "shim" && !sheet.asks.includes("shims")),
  );
  const fault = look.error instanceof ApiProblem ? look.error : null;
  return (
    <div className="rubric">
      <form
        className="rubric-form"
        onSubmit={(event) => {
          event.preventDefault();
          set.mutate();
        }}
      >
        <div className="card">
          <h2>Begin from</h2>
          <div className="templates">
            {sheet.templates.map((template) => (
              <button
                key={template.name}
                type="button"
                className="button"
                title={template.says}
                onClick={() => setTyped(asTyped(template.rubric))}
              >
                {template.title}
              </button>
            ))}
          </div>
        </div>
        <div className="card">
          <h2>Weights</h2>
          <ul className="weights">
            {parts.map((part) => (
              <Weight key={part} part={part} typed={typed} onType={setTyped} />
            ))}
          </ul>
        </div>
        <Limits sheet={sheet} typed={typed} onType={setTyped} />
        {(fault || set.isError) && (
          <p className="notice" role="alert">
            {sentence(set.error ?? fault)}
          </p>
        )}
        <p>
          <button
            type="submit"
            className="button main"
            disabled={set.isPending || look.isError || look.isPending}
          >
            Weigh this sheet so
          </button>
        </p>
      </form>
      <Seen look={look.data} />
    </div>
  );
}

type PartProps = { part: string; typed: Typed; onType: (typed: Typed) => void };

function Weight({ part, typed, onType }: PartProps) {
  const name = PART_NAMES[part] ?? part;
  const weights = Object.values(typed.weights).map(Number);
  const whole = weights.filter((w) => w > 0).reduce((sum, w) => sum + w, 0);
  const own = Number(typed.weights[part]);
  return (
    <li>
      <span>
        <b>{name}</b>
        <small>{PART_SAYS[part]}</small>
      </span>
      <input
        className="field figures"
        inputMode="decimal"
        maxLength={6}
        placeholder="left out"
        aria-label={`Weight of ${name}`}
        value={typed.weights[part] ?? ""}
        onChange={(event) =>
          onType({ ...typed, weights: { ...typed.weights, [part]: event.target.value } })
        }
      />
      <span className="figures">{own > 0 ? percent((100 * own) / whole) : ""}</span>
      <label className="check">
        <input
          type="checkbox"
          checked={typed.whole[part] ?? false}
          onChange={(event) =>
            onType({ ...typed, whole: { ...typed.whole, [part]: event.target.checked } })
          }
        />
        must be whole<span className="visually-hidden">: {name}</span>
      </label>
    </li>
  );
}

type LimitProps = {
  sheet: Schemas["RubricOut"];
  typed: Typed;
  onType: (typed: Typed) => void;
};

function Limits({ sheet, typed, onType }: LimitProps) {
  const other = inOtherUnit(typed.zero, "mm");
  return (
    <div className="card">
      <h2>Limits</h2>
      <div className="rubric-limits">
        <label>
          Passed from
          <input
            className="field figures"
            inputMode="decimal"
            maxLength={5}
            value={typed.pass}
            onChange={(event) => onType({ ...typed, pass: event.target.value })}
          />
          <span className="soft">per cent</span>
        </label>
        <label>
          A reading is worth nothing at ±
          <input
            className="field figures"
            inputMode="decimal"
            maxLength={8}
            value={typed.zero}
            placeholder={`beyond ${sheet.tolerance_mm}`}
            onChange={(event) => onType({ ...typed, zero: event.target.value })}
          />
          <span className="soft">
            mm{other && ` (${other})`}; falling evenly from {mm(sheet.tolerance_mm)}. Blank: all or
            nothing
          </span>
        </label>
        <label>
          Time
          <input
            className="field figures"
            inputMode="decimal"
            maxLength={5}
            value={typed.minutes}
            placeholder="not timed"
            onChange={(event) => onType({ ...typed, minutes: event.target.value })}
          />
          <span className="soft">minutes; nothing at twice that</span>
        </label>
      </div>
      {typed.zero.trim() !== "" && (
        <p className="soft">
          Such a grade tells how far a reading lies from the key, so students see it only when you
          give it back from the board. Their marks with reasons they see at once.
        </p>
      )}
    </div>
  );
}

function Seen({ look }: { look: Schemas["RubricLookOut"] | undefined }) {
  if (look === undefined) return <div className="rubric-seen" />;
  return (
    <div className="rubric-seen" aria-live="polite">
      <div>
        <h2>A sheet with four usual mistakes</h2>
        <p className="soft">
          One reading off by one and a half tolerances, one wrong verdict, one wrong place, one
          valve left blank, the closing list not ticked, 45 minutes.
        </p>
        <GradeCard grade={look.sample} title="Grade of the sample" />
      </div>
      {look.rows.length > 0 && (
        <ListTable
          label="What it makes of the sheets handed in"
          rows={look.rows}
          keyOf={(row) => row.hand_in_id}
          columns={[
            {
              title: "Student",
              show: (row) => <Link to={`/hand-in/${row.hand_in_id}`}>{row.student}</Link>,
            },
            { title: "Now", right: true, show: (row) => percent(row.before_percent) },
            { title: "Then", right: true, show: (row) => percent(row.after_percent) },
            {
              title: "",
              show: (row) =>
                row.before_passed === row.after_passed ? "" : row.after_passed ? "passes" : "fails",
            },
          ]}
        />
      )}
    </div>
  );
}

function asTyped(rubric: Schemas["RubricFieldsOut"]): Typed {
  return {
    weights: Object.fromEntries(rubric.items.map((item) => [item.part, String(item.weight)])),
    whole: Object.fromEntries(rubric.items.map((item) => [item.part, item.must_be_whole])),
    pass: String(rubric.pass_percent),
    zero: rubric.zero_at_mm === null ? "" : String(rubric.zero_at_mm),
    minutes: rubric.minutes === null ? "" : String(rubric.minutes),
  };
}

/** What is no number is sent as one that the server refuses by name. */
function figure(text: string): number {
  const value = Number(text.trim().replace(",", "."));
  return Number.isFinite(value) ? value : -1;
}

function asRubric(typed: Typed): Rubric {
  const optional = (text: string) => (text.trim() === "" ? null : figure(text));
  return {
    items: Object.keys(PART_NAMES)
      .filter((part) => (typed.weights[part] ?? "").trim() !== "")
      .map((part) => ({
        part,
        weight: figure(typed.weights[part] ?? ""),
        must_be_whole: typed.whole[part] ?? false,
      })),
    pass_percent: figure(typed.pass),
    zero_at_mm: optional(typed.zero),
    minutes: optional(typed.minutes),
  };
}
