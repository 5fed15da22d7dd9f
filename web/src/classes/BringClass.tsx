/** A class that was taken away as a file, brought back into this Edrix. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Tooltip, Upload } from "antd";
import { useNavigate } from "react-router";
import { api, unwrap } from "../api/client";
import { fileBody } from "../api/files";
import { finished } from "../api/jobs";
import { keys } from "../api/keys";
import { Problem } from "../kit/Problem";

export function BringClass() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const bring = useMutation({
    mutationFn: async (file: File) =>
      finished(await unwrap(api.POST("/api/archives/import", fileBody(file)))),
    onSuccess: (job) => {
      queries.invalidateQueries({ queryKey: keys.classes });
      navigate(`/classes/${String(job.result.class_id)}`);
    },
  });
  return (
    <>
      <Upload
        accept=".zip"
        showUploadList={false}
        disabled={bring.isPending}
        beforeUpload={(file) => {
          bring.mutate(file);
          return false;
        }}
      >
        <Tooltip title="Its students come as new accounts: give each a passcode. You teach it from then on.">
          <Button loading={bring.isPending}>Bring a class from a file</Button>
        </Tooltip>
      </Upload>
      <Problem error={bring.error} />
    </>
  );
}
