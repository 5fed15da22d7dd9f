/** Each valve's arithmetic with its place in the spec, and the way with the fewest shims bought. */
import type { Schemas } from "../api/client";
import { beside, mm } from "../app/lengths";
import { counted } from "../app/words";

type Plan = Schemas["ShimsOut"];
type Advice = Plan["valves"][number];
type Props = {
  plan: Plan;
  valves: Schemas["ValveOut"][];
  tables: Schemas["ShimTableOut"][];
};

const SIDE_MM = 0.12;
const WIDE = 160;

const VERDICTS: Record<string, (advice: Advice) => string> = {
  leave: () => "within: leave it",
  thinner: (advice) => `thinner: ${size(advice.choose_mm)}`,
  thicker: (advice) => `thicker: ${size(advice.choose_mm)}`,
  "out-of-reach": () => "no size reaches the spec",
};

export function ShimResult({ plan, valves, tables }: Props) {
  const roleOf = new Map(valves.map((valve) => [valve.number, valve.role]));
  const tableOf = (valve: number, gap: string) =>
    tables.find((one) => one.role === roleOf.get(valve) && one.gap === gap);
  return (
    <div className="shim-result">
      <h3>Valve by valve</h3>
      {plan.left_out.map(({ valve, why }) => (
        <p key={valve} className="notice calm">
          Valve {valve} is left out: {why}.
        </p>
      ))}
      <ul>
        {plan.valves.map((advice) => (
          <li key={advice.valve} className={roleOf.get(advice.valve)}>
            <b>Valve {advice.valve}</b>
            {advice.closing && (
              <Advised
                called="closing, first"
                advice={advice.closing}
                spec={tableOf(advice.valve, "closing")}
              />
            )}
            <Advised
              called={advice.closing ? "then opening" : null}
              advice={advice}
              spec={tableOf(advice.valve, "opening")}
            />
            {advice.says.length > 0 && (
              <ol className="steps figures">
                {advice.says.map((step) => (
                  <li key={step}>{step}</li>
                ))}
              </ol>
            )}
          </li>
        ))}
      </ul>
      {plan.closing_swap && <Swapped called="Closing shims" swap={plan.closing_swap} />}
      <Swapped called={plan.closing_swap ? "Opening shims" : null} swap={plan.swap} />
    </div>
  );
}

type AdvisedProps = {
  called: string | null;
  advice: Advice;
  spec: { low_mm: number; high_mm: number; unit: string } | undefined;
};

function Advised({ called, advice, spec }: AdvisedProps) {
  return (
    <>
      <span className="figures sum-line">
        {called && <b>{called}: </b>}
        {advice.sum}
      </span>
      <span>
        <b>{VERDICTS[advice.verdict]?.(advice)}</b>
        {advice.clearance_mm !== null &&
          advice.verdict !== "leave" &&
          `, gap then ${spec ? beside(advice.clearance_mm, { ...spec, written_in: spec.unit }) : mm(advice.clearance_mm)}`}
      </span>
      {spec && <Place spec={spec} gapMm={advice.clearance_mm} />}
      {advice.warnings.map((warning) => (
        <p key={warning} className="notice">
          {warning}
        </p>
      ))}
    </>
  );
}

function Swapped({ called, swap }: { called: string | null; swap: Plan["swap"] }) {
  return (
    <>
      <h3>
        {called ? `${called}, moved` : "Moving shims"} first:{" "}
        {swap.buy_mm.length === 0 ? "none to buy" : `${counted(swap.buy_mm.length, "shim")} to buy`}
      </h3>
      <ol>
        {swap.moves.map((move) => (
          <li key={move.valve}>
            <b>Valve {move.valve}</b> {size(move.size_mm)} mm, {from(move.source)}; gap{" "}
            {mm(move.clearance_mm)}
          </li>
        ))}
      </ol>
      {swap.buy_mm.length > 0 && (
        <p>
          Order: <b className="figures">{order(swap.buy_mm)}</b>
        </p>
      )}
      {swap.left_over_mm.length > 0 && (
        <p className="soft">Left over: {swap.left_over_mm.map(size).join(", ")} mm</p>
      )}
      {swap.warnings.map((warning) => (
        <p key={warning} className="notice">
          {warning}
        </p>
      ))}
    </>
  );
}

function size(lengthMm: number | null): string {
  return lengthMm === null ? "" : lengthMm.toFixed(Math.round(lengthMm * 1000) % 10 ? 3 : 2);
}

function from(source: string): string {
  if (source === "keep") return "as it is";
  if (source === "buy") return "bought";
  return source === "stock" ? "from stock" : `from ${source}`;
}

/** The order list: how many of each size. */
export function order(sizesMm: readonly number[]): string {
  const counts = new Map<string, number>();
  for (const one of sizesMm) counts.set(size(one), (counts.get(size(one)) ?? 0) + 1);
  return [...counts].map(([name, count]) => `${count} × ${name} mm`).join(", ");
}

/** Where the gap comes to lie: the spec as a band, the gap as a mark. */
function Place({
  spec,
  gapMm,
}: {
  spec: { low_mm: number; high_mm: number };
  gapMm: number | null;
}) {
  if (gapMm === null) return null;
  const from = spec.low_mm - SIDE_MM;
  const px = (length: number) => ((length - from) / (spec.high_mm - from + SIDE_MM)) * WIDE;
  const at = Math.max(3, Math.min(WIDE - 3, px(gapMm)));
  return (
    <svg
      viewBox={`0 0 ${WIDE} 24`}
      className="spec-place"
      role="img"
      aria-label={`gap ${mm(gapMm)}`}
    >
      <path className="axis" d={`M0,12H${WIDE}`} />
      <rect
        className="band"
        x={px(spec.low_mm)}
        width={px(spec.high_mm) - px(spec.low_mm)}
        y="6"
        height="12"
      />
      <path className="gap" d={`M${at},1V23`} />
    </svg>
  );
}
