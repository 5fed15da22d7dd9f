/** A file on its way in: read first, taken in when it was looked at, with how far it is. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { fileBody } from "../api/files";
import { finished } from "../api/jobs";
import { keys } from "../api/keys";

export type Preview = Schemas["ImportPreviewOut"];
type Take = { chosen: File; digest: string; confirmed: boolean };
type Far = { done: number; of: number };

export function useFile(sheetId: number) {
  const queries = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const [far, setFar] = useState<Far>({ done: 0, of: 0 });
  const params = { path: { sheet_id: sheetId } };
  const look = useMutation({
    mutationFn: (chosen: File) =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/import/preview", {
          params,
          ...fileBody(chosen),
        }),
      ),
  });
  const take = useMutation({
    mutationFn: async ({ chosen, digest, confirmed }: Take) => {
      const asked = await unwrap(
        api.POST("/api/sheets/{sheet_id}/import", {
          params,
          ...fileBody(chosen, { digest, confirmed }),
        }),
      );
      const { result } = await finished(asked, ({ progress }) =>
        setFar({ done: Number(progress.done ?? 0), of: Number(progress.of ?? 0) }),
      );
      return Number(result.takes);
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.sheet(sheetId) }),
  });
  function choose(chosen: File) {
    setFile(chosen);
    setFar({ done: 0, of: 0 });
    take.reset();
    look.mutate(chosen);
  }
  return { file, far, look, take, choose };
}
