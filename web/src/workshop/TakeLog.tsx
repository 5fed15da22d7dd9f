/** A log of the past from a file: what it comes to is shown first, then it is taken whole or not. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Upload } from "antd";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { fileBody } from "../api/files";
import { finished } from "../api/jobs";
import { keys } from "../api/keys";
import { day } from "../app/school";
import { Panel } from "../kit/Panel";
import { Problem } from "../kit/Problem";

type Props = { standId: number };
const MOST_TOLD = 12;

export function TakeLog({ standId }: Props) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [file, setFile] = useState<File | null>(null);
  const place = { params: { path: { stand_id: standId } } };
  const look = useMutation({
    mutationFn: (chosen: File) =>
      unwrap(api.POST("/api/stands/{stand_id}/log/look", { ...place, ...fileBody(chosen) })),
  });
  const take = useMutation({
    mutationFn: async (chosen: File) =>
      finished(
        await unwrap(
          api.POST("/api/stands/{stand_id}/log/file", { ...place, ...fileBody(chosen) }),
        ),
      ),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: keys.stands });
      close();
    },
  });
  const close = () => {
    setOpen(false);
    setFile(null);
    look.reset();
    take.reset();
  };
  const seen = look.data;
  return (
    <>
      <Button onClick={() => setOpen(true)}>Take a log in</Button>
      <Panel open={open} title="Take a log of before in" onClose={close}>
        <p className="soft">
          A CSV or XLSX file, one row for each valve that was looked at: day, meter, valve, and
          found or left; also shim, unit, what, by and note. Rows stand in order of time.
        </p>
        <Upload
          accept=".csv,.xlsx"
          maxCount={1}
          showUploadList={false}
          beforeUpload={(chosen) => {
            setFile(chosen);
            take.reset();
            look.mutate(chosen);
            return false;
          }}
        >
          <Button loading={look.isPending}>{file ? file.name : "Choose a file"}</Button>
        </Upload>
        <Problem error={look.error} />
        {seen && <Seen seen={seen} />}
        <Problem error={take.error} />
        {seen && file && (
          <div className="ways">
            <Button
              type="primary"
              disabled={seen.faults.length > 0 || seen.entries === 0}
              loading={take.isPending}
              onClick={() => take.mutate(file)}
            >
              Take {seen.entries} entries in
            </Button>
            <Button onClick={close}>Cancel</Button>
          </div>
        )}
      </Panel>
    </>
  );
}

function Seen({ seen }: { seen: Schemas["LogFileOut"] }) {
  const span = seen.from_at && seen.to_at ? `, ${day(seen.from_at)} to ${day(seen.to_at)}` : "";
  return (
    <>
      <p>
        {seen.rows} rows make {seen.entries} entries{span}.
      </p>
      {seen.faults.length > 0 && (
        <Alert
          type="error"
          showIcon
          title="Mend these rows in the file, and choose it again. Nothing is taken while any is wrong."
          description={
            <ul>
              {seen.faults.slice(0, MOST_TOLD).map((fault) => (
                <li key={`${fault.row} ${fault.problem}`}>
                  <b>Row {fault.row}</b> {fault.problem}
                </li>
              ))}
              {seen.faults.length > MOST_TOLD && <li>and {seen.faults.length - MOST_TOLD} more</li>}
            </ul>
          }
        />
      )}
    </>
  );
}
