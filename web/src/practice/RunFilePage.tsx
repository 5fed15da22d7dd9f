/** A run file opened by an instructor: replayed and told, and kept nowhere. */

import { useMutation } from "@tanstack/react-query";
import { type ChangeEvent, useEffect } from "react";
import { Link } from "react-router";
import { api, unwrap } from "../api/client";
import { fileBody } from "../api/files";
import { sentence } from "../app/feedback";
import { degrees } from "../app/lengths";
import { LEVELS } from "../app/practice-words";
import { DebriefView } from "./DebriefView";

export default function RunFilePage() {
  const open = useMutation({
    mutationFn: (file: File) => unwrap(api.POST("/api/run-files", fileBody(file))),
  });
  useEffect(() => {
    document.title = "Run file · Edrix";
  }, []);
  const told = open.data;
  return (
    <article className="debrief">
      <div className="place-head">
        <div>
          <h1>{told ? told.engine : "Open a run file"}</h1>
          <p>
            {told
              ? `${told.moments.length} steps · ${degrees(told.turned_deg ?? 0)} turned · ${LEVELS[told.level ?? ""] ?? told.level}`
              : "A run that was taken away as a file is replayed here and told. Nothing is kept."}
          </p>
        </div>
        <Link className="button" to="/classes">
          Classes
        </Link>
      </div>
      <label className="card run-file">
        <b>{told ? "Open another one" : "Choose a run file"}</b>
        <input
          type="file"
          accept=".json,application/json"
          onChange={({ target }: ChangeEvent<HTMLInputElement>) => {
            const file = target.files?.[0];
            if (file) open.mutate(file);
            target.value = "";
          }}
        />
      </label>
      {open.isPending && <p className="soft">Replaying it…</p>}
      {open.isError && (
        <p className="notice" role="alert">
          {sentence(open.error)}
        </p>
      )}
      {told && (
        <>
          {told.refused.length > 0 && (
            <div className="notice calm">
              <p>What could not be done, and changed nothing:</p>
              <ul>
                {told.refused.slice(0, 20).map((one) => (
                  <li key={one.step}>
                    <span className="figures">{one.step}</span> {one.do}: {one.says}
                  </li>
                ))}
              </ul>
            </div>
          )}
          <DebriefView told={told} heading="How it started, or would" grade={null} />
        </>
      )}
    </article>
  );
}
