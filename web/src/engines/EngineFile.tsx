/** An engine file put on the shelf, with what the check of it found. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Alert } from "antd";
import { ApiProblem, api, unwrap } from "../api/client";
import { enginesQuery } from "../api/queries";
import { Problem } from "../kit/Problem";

const MOST_FILE_BYTES = 1_000_000;

export function EngineFile() {
  const add = useAddEngine();
  return (
    <>
      {/* A file field of our own: antd's Upload would add 16 kB to an instructor's first page. */}
      <label className="button engine-file">
        {add.isPending ? "Reading…" : "Add an engine file"}
        <input
          type="file"
          accept=".json,application/json"
          className="visually-hidden"
          onChange={({ target }) => {
            const file = target.files?.[0];
            if (file) add.mutate(file);
            // The same file, corrected and chosen again, must be read again.
            target.value = "";
          }}
        />
      </label>
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
