/** A colleague's sheet with one mistake on it, as it was written: to be looked through together. */
import type { Schemas } from "../api/client";
import { Badge } from "../app/Badge";
import { degrees } from "../app/lengths";
import "./colleagues-sheet.css";

export function ColleaguesSheet({ lines }: { lines: readonly Schemas["SheetLineOut"][] }) {
  if (lines.length === 0) return null;
  return (
    <div className="colleagues-sheet">
      <table>
        <caption className="visually-hidden">A colleague's sheet</caption>
        <thead>
          <tr>
            {["Valve", "Crank at", "Leaf that dragged", "Written", "Verdict", "Done"].map(
              (head) => (
                <th key={head} scope="col">
                  {head}
                </th>
              ),
            )}
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <tr key={line.valve}>
              <th scope="row">
                <Badge number={line.valve} role={line.role} /> cyl. {line.cylinder}
              </th>
              <td className="figures">{degrees(line.at_deg)}</td>
              <td className="figures">{line.leaf}</td>
              <td className="figures">{line.wrote}</td>
              <td>{line.verdict}</td>
              <td>{line.did}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
