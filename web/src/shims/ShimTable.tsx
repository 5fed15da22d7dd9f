/** The table that makers print: measured gap against fitted shim, made for this spec. */
import type { Schemas } from "../api/client";

const COLUMNS = 16;

export function ShimTable({ table }: { table: Schemas["ShimTableOut"] }) {
  const parts = Math.ceil(table.fitted_mm.length / COLUMNS);
  return (
    <section className={`card shim-table ${table.role}`}>
      <h2>
        {table.role}
        {table.gap === "closing" && ", closing shim (first)"}: gap {table.says}{" "}
        <span className="soft">{table.says_other}</span>
      </h2>
      <p className="soft">
        Down the side the gap that was measured, along the top the shim that is in; where they meet,
        the shim to fit. A dot: leave it. A dash: no size reaches.
      </p>
      {Array.from({ length: parts }, (_, part) => (
        <Part key={table.fitted_mm[part * COLUMNS]} table={table} from={part * COLUMNS} />
      ))}
    </section>
  );
}

function Part({ table, from }: { table: Schemas["ShimTableOut"]; from: number }) {
  const fitted = table.fitted_mm.slice(from, from + COLUMNS);
  return (
    <section
      className="scroll"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a wide table is scrolled by keys
      tabIndex={0}
      aria-label={`${table.role}, ${table.gap} shims from ${fitted[0]}`}
    >
      <table className="figures">
        <thead>
          <tr>
            <th scope="col">gap, {table.unit}</th>
            {fitted.map((size) => (
              <th key={size} scope="col">
                {size.toFixed(Math.round(size * 1000) % 10 ? 3 : 2)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.bands.map((band, row) => (
            <tr key={band.from_mm} className={inSpec(table, band) ? "in-spec" : undefined}>
              <th scope="row">{band.says}</th>
              {fitted.map((size, column) => (
                <td key={size}>{cell(table.new_mm[row]?.[from + column] ?? null, size)}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

type Band = Schemas["BandOut"];

function inSpec(table: { low_mm: number; high_mm: number }, band: Band): boolean {
  return band.from_mm >= table.low_mm && band.from_mm <= table.high_mm;
}

function cell(newMm: number | null, fittedMm: number): string {
  if (newMm === null) return "–";
  if (newMm === fittedMm) return "·";
  return newMm.toFixed(Math.round(newMm * 1000) % 10 ? 3 : 2);
}
