/** A file of readings: how each column and row is understood, before anything is kept. */
import { Progress, Upload } from "antd";
import type { Schemas } from "../api/client";
import { Problem } from "../kit/Problem";
import { FileSeen } from "./FileSeen";
import { Taken } from "./Taken";
import { useFile } from "./useFile";

export function FileIntake({ board }: { board: Schemas["BoardOut"] }) {
  const { file, far, look, take, choose } = useFile(board.id);
  if (take.isSuccess) return <Taken count={take.data} sheetId={board.id} />;
  return (
    <>
      <Upload.Dragger
        accept=".csv,.txt,.xlsx,.json"
        showUploadList={false}
        disabled={take.isPending}
        beforeUpload={(chosen) => {
          choose(chosen);
          // It is read and shown first; taking it in is another step.
          return Upload.LIST_IGNORE;
        }}
      >
        <p>
          <b>{file ? "Choose another file" : "Choose a file"}</b>, or drop it here
        </p>
        <p className="soft">
          CSV or XLSX with a row for each valve, or a column for each valve (V1, V2, …), or an Edrix
          sheet file. Nothing is kept before you have seen it.
        </p>
      </Upload.Dragger>
      <p className="soft">
        The{" "}
        <a href={`/api/sheets/${board.id}/readings.csv`} download>
          readings handed in so far
        </a>{" "}
        show the columns.
      </p>
      <div aria-live="polite">
        {look.isPending && <p className="soft">Reading {file?.name}…</p>}
        <Problem error={take.error ?? look.error} />
        {take.isPending && <Far {...far} />}
        {look.isSuccess && file && (
          <FileSeen
            key={look.data.digest}
            seen={look.data}
            pending={take.isPending}
            onTake={(confirmed) =>
              take.mutate({ chosen: file, digest: look.data.digest, confirmed })
            }
          />
        )}
      </div>
    </>
  );
}

function Far({ done, of }: { done: number; of: number }) {
  const share = of === 0 ? 0 : Math.round((100 * done) / of);
  return (
    <section className="card seen" aria-label="Taking in">
      <p role="status">
        {of === 0 ? "The file is being read…" : `${done} of ${of} readings marked and taken in`}
      </p>
      <Progress percent={share} aria-label="Taking in" status="active" />
      <p className="soft">
        All of the file is taken in, or none of it. You may leave this page; the board shows it.
      </p>
    </section>
  );
}
