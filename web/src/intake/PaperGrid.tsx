/** Thirty paper sheets typed in one go, looked over once, and taken in together. */
import { Alert, Button, Segmented, Switch } from "antd";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Ask } from "../kit/Ask";
import { FormClashes } from "../kit/FormClashes";
import { Problem } from "../kit/Problem";
import { PaperTable } from "./PaperTable";
import { Taken } from "./Taken";
import { type Paper, usePaper } from "./usePaper";

type Props = { board: Schemas["BoardOut"] };

export function PaperGrid({ board }: Props) {
  const [asking, setAsking] = useState(false);
  const paper = usePaper(board, () => setAsking(false));
  const { sheets, take } = paper;
  if (paper.isDone) return <Taken count={take.data?.taken ?? 0} sheetId={board.id} />;
  if (paper.students.length === 0) return <Alert type="info" title="Everybody has handed in." />;
  const many = `${sheets.length} ${sheets.length === 1 ? "sheet" : "sheets"}`;
  return (
    <>
      <PaperWays paper={paper} further={board.columns} />
      <p className="soft">
        Two digits move to the next cell: <b className="figures">35</b> is{" "}
        {paper.unit === "mm" ? "0.35 mm" : "35 thou"}. <kbd>Enter</kbd> or <kbd>+</kbd> leaves a
        cell blank or as it is, <kbd>−</kbd> goes back, arrows go up and down. A verdict is 4 tight,
        5 within, 6 loose, in the order of the keys. What you type is kept on this device.
      </p>
      <FormClashes form={paper} nameOf={paper.nameOf} />
      <PaperTable paper={paper} stops={board.stops.length} />
      <Problem error={take.error} />
      {paper.asks && (
        <Button loading={take.isPending} onClick={() => take.mutate({ sheets, confirmed: true })}>
          They stand so on the paper: take in {many}
        </Button>
      )}
      <Button
        type="primary"
        loading={take.isPending}
        disabled={sheets.length === 0}
        onClick={() => setAsking(true)}
      >
        Take in {many}
      </Button>
      <Ask
        open={asking}
        title={`Take in ${many}?`}
        does="Take in and mark"
        instead="Keep typing"
        pending={take.isPending}
        onClose={() => setAsking(false)}
        onConfirm={() => take.mutate({ sheets, confirmed: false })}
      >
        <p>
          {short(paper, board.valve_numbers.length)} They are handed in for these students and can't
          be typed again.
        </p>
      </Ask>
    </>
  );
}

type WaysProps = { paper: Paper; further: Props["board"]["columns"] };

function PaperWays({ paper, further }: WaysProps) {
  const titles = further.map(({ title }) => title).join(", ");
  return (
    <div className="paper-ways">
      <div>
        <span>Gaps are in</span>
        <Segmented
          aria-label="Unit of the gaps"
          options={["mm", "thou"]}
          value={paper.unit}
          onChange={(unit) => paper.setUnit(unit as Paper["unit"])}
        />
      </div>
      <div>
        <Switch aria-label="Type stops, too" checked={paper.stops} onChange={paper.setStops} />
        <span>Stops</span>
      </div>
      <div>
        <Switch
          aria-label="Type verdicts, too"
          checked={paper.verdicts}
          onChange={paper.setVerdicts}
        />
        <span>Verdicts</span>
      </div>
      {further.length > 0 && (
        <div>
          <Switch
            aria-label={`Type ${titles}, too`}
            checked={paper.more}
            onChange={paper.setMore}
          />
          <span>{titles}</span>
        </div>
      )}
    </div>
  );
}

/** What would count as blank, and what is not marked at all. */
function short({ sheets, stops, verdicts }: Paper, valves: number): string {
  const readings = sheets.flatMap((sheet) => sheet.lines).filter((line) => line.reading !== "");
  const missing = sheets.length * valves - readings.length;
  const blanks = missing === 1 ? "1 gap is" : `${missing} gaps are`;
  const gaps = missing === 0 ? `All ${readings.length} gaps are typed.` : `${blanks} blank.`;
  const left = [...(stops ? [] : ["stops"]), ...(verdicts ? [] : ["verdicts"])].join(" or ");
  return left ? `${gaps} No ${left} are typed: they are neither marked nor missing.` : gaps;
}
