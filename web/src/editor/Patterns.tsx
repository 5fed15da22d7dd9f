/** Where a new engine begins: the pattern nearest to it. */
import type { Schemas } from "../api/client";
import { counted, layoutWord } from "../app/words";

type Pattern = Schemas["PatternOut"];
type Props = { patterns: readonly Pattern[]; onChoose: (pattern: Pattern) => void };

export function Patterns({ patterns, onChoose }: Props) {
  return (
    <div className="editor">
      <div className="place-head">
        <div>
          <h1>A new engine</h1>
          <p>Begin from the pattern nearest to it; every figure can be changed.</p>
        </div>
      </div>
      <ul className="patterns">
        {patterns.map((pattern) => (
          <li key={pattern.id}>
            <button type="button" className="card pattern" onClick={() => onChoose(pattern)}>
              <HeadSketch pattern={pattern} />
              <b>{pattern.says}</b>
              <span className="soft">
                {layoutWord(String(pattern.document.layout))},{" "}
                {counted(valvesOf(pattern).length, "valve")}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

type SketchValve = { cylinder: number; role: string };

function valvesOf(pattern: Pattern): SketchValve[] {
  return pattern.document.valves as unknown as SketchValve[];
}

/** The head in small: a row for each bank, a dot for each valve. */
function HeadSketch({ pattern }: { pattern: Pattern }) {
  const banks = pattern.document.banks as unknown as number[][];
  const rows = banks.map((bank) => valvesOf(pattern).filter((v) => bank.includes(v.cylinder)));
  const most = Math.max(...rows.map((row) => row.length));
  const step = Math.min(16, 220 / most);
  return (
    <svg
      viewBox={`0 0 230 ${rows.length * 22 + 6}`}
      preserveAspectRatio="xMinYMid meet"
      aria-hidden="true"
    >
      {rows.map((row, line) =>
        row.map((valve, place) => {
          const key = `${line} ${place}`;
          const x = 8 + place * step;
          const y = 14 + line * 22;
          return valve.role === "intake" ? (
            <circle key={key} cx={x} cy={y} r={step / 3} className="intake sketch" />
          ) : (
            <rect
              key={key}
              x={x - step / 3}
              y={y - step / 3}
              width={(2 * step) / 3}
              height={(2 * step) / 3}
              className={`${valve.role} sketch`}
            />
          );
        }),
      )}
    </svg>
  );
}
