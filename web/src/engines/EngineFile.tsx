/** An engine file put on the shelf, with what the check of it found. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Upload } from "antd";
import { ApiProblem, api, unwrap } from "../api/client";
import { enginesQuery } from "../api/queries";
import { Problem } from "../kit/Problem";

const MOST_FILE_BYTES = 1_000_000;

export default function EngineFile() {
  const add = useAddEngine();
  return (
    <>
      <div className="ways">
        <Upload
          accept=".json,application/json"
          showUploadList={false}
          beforeUpload={(file) => {
            add.mutate(file);
            // The answer is shown here, in words; antd's own list of files would say less.
            return Upload.LIST_IGNORE;
          }}
        >
          <Button loading={add.isPending}>Add an engine file</Button>
        </Upload>
      </div>
      <div role="status">
        {add.isSuccess && (
          <Alert
            type="success"
            showIcon
            title={`${add.data.engine.name} is on the shelf.`}
            description={
              add.data.warnings.length > 0 && (
                <ul>
                  {add.data.warnings.map((warning) => (
                    <li key={warning}>{warning}</li>
                  ))}
                </ul>
              )
            }
          />
        )}
      </div>
      <Problem error={add.error} intro="The engine file cannot be used:" />
    </>
  );
}

function useAddEngine() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (file: File) => {
      if (file.size > MOST_FILE_BYTES) {
        const kB = Math.round(file.size / 1000);
        throw new ApiProblem(413, `${file.name} has ${kB} kB; an engine file is a few kB.`);
      }
      return unwrap(api.POST("/api/engines", { body: parsed(file.name, await file.text()) }));
    },
    onSuccess: () => queries.invalidateQueries(enginesQuery),
  });
}

/** The file's JSON; a text that is none is told where it breaks, before anything is sent. */
function parsed(name: string, text: string): Record<string, never> {
  try {
    return JSON.parse(text);
  } catch (fault) {
    throw new ApiProblem(400, `${name} is not JSON: ${(fault as Error).message}`);
  }
}
