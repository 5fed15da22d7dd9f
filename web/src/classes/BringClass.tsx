/** A class that was taken away as a file, brought back into this Edrix. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { useNavigate } from "react-router";
import { api, unwrap } from "../api/client";
import { classesQuery } from "../api/queries";
import { sentence } from "../app/feedback";

export function BringClass() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const picker = useRef<HTMLInputElement>(null);
  const bring = useMutation({
    mutationFn: (file: File) =>
      unwrap(
        api.POST("/api/archives/import", {
          body: { file: file.name },
          bodySerializer: () => {
            const form = new FormData();
            form.append("file", file);
            return form;
          },
        }),
      ),
    onSuccess: (made) => {
      queries.invalidateQueries(classesQuery);
      navigate(`/classes/${made.class_id}`);
    },
    onSettled: () => {
      if (picker.current) picker.current.value = "";
    },
  });
  return (
    <section className="bring" aria-label="Bring a class">
      <label className="button">
        {bring.isPending ? "Bringing it in…" : "Bring a class from a file"}
        <input
          ref={picker}
          type="file"
          className="visually-hidden"
          accept=".zip"
          disabled={bring.isPending}
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) bring.mutate(file);
          }}
        />
      </label>
      <p className="soft">
        Its students come as new accounts; give each a passcode. You teach it from then on.
      </p>
      {bring.isError && (
        <p className="notice" role="alert">
          {sentence(bring.error)}
        </p>
      )}
    </section>
  );
}
