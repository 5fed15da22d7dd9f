/** The shelf of engines: to the Bench, to a route card, engine files in and out. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { Link } from "react-router";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { enginesQuery } from "../api/queries";
import { Empty, sentence } from "../app/feedback";
import { usePerson } from "../app/session";
import { counted, layoutWord } from "../app/words";
import "./engines.css";

const MOST_FILE_BYTES = 1_000_000;

export default function ShelfPage() {
  const person = usePerson();
  const { data: engines } = useSuspenseQuery(enginesQuery);
  useEffect(() => {
    document.title = "Engines · Edrix";
  }, []);
  return (
    <div className="shelf">
      <div className="place-head">
        <div>
          <h1>Engines</h1>
          <p>Choose one to turn on the Bench.</p>
        </div>
        {person.may_teach && (
          <Link className="button main" to="/engines/new">
            Write a new engine
          </Link>
        )}
      </div>
      {person.may_teach && <AddFile />}
      {engines.length === 0 && (
        <Empty title="The shelf is empty">Add an engine file (edrix-engine/1) to begin.</Empty>
      )}
      <ul className="engines">
        {engines.map((engine) => (
          <EngineCard key={engine.id} engine={engine} mayTeach={person.may_teach} />
        ))}
      </ul>
    </div>
  );
}

type CardProps = { engine: Schemas["EngineRow"]; mayTeach: boolean };

function EngineCard({ engine, mayTeach }: CardProps) {
  return (
    <li className="card engine">
      <div>
        <h2>{engine.name}</h2>
        <p className="soft">
          {layoutWord(engine.layout)}, {counted(engine.cylinders, "cylinder")},{" "}
          {counted(engine.valves, "valve")}
          {engine.version > 1 && `, version ${engine.version}`}
        </p>
        <p>
          fires <b className="figures">{engine.firing_order.join("–")}</b>
        </p>
      </div>
      <div className="engine-ways">
        <Link className="button main" to={`/bench/${engine.id}`}>
          Bench
        </Link>
        <Link className="button" to={`/route/${engine.id}`}>
          Route card
        </Link>
        <Link className="button" to={`/schools/${engine.id}`}>
          Schools
        </Link>
        <Link className="button" to={`/drill/${engine.id}`}>
          Drill
        </Link>
        {engine.shims && (
          <Link className="button" to={`/shims/${engine.id}`}>
            Shims
          </Link>
        )}
        {mayTeach && (
          <Link className="button" to={`/engines/${engine.id}/edit`}>
            Edit
          </Link>
        )}
        <a className="button" href={`/api/engines/${engine.id}/file`} download>
          File
        </a>
      </div>
    </li>
  );
}

function AddFile() {
  const queries = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const add = useMutation({
    mutationFn: async (file: File) => {
      if (file.size > MOST_FILE_BYTES) {
        const kB = Math.round(file.size / 1000);
        throw new ApiProblem(413, `${file.name} has ${kB} kB; an engine file is a few kB.`);
      }
      return unwrap(api.POST("/api/engines", { body: parsed(file.name, await file.text()) }));
    },
    onSuccess: () => queries.invalidateQueries(enginesQuery),
    onSettled: () => {
      if (input.current) input.current.value = "";
    },
  });
  const fields = add.error instanceof ApiProblem ? add.error.fields : [];
  return (
    <section className="add-file">
      <label className="button">
        {add.isPending ? "Reading…" : "Add an engine file"}
        <input
          ref={input}
          type="file"
          accept=".json,application/json"
          className="visually-hidden"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) add.mutate(file);
          }}
        />
      </label>
      <div role="status">
        {add.isSuccess && (
          <div className="notice calm">
            <p>{add.data.engine.name} is on the shelf.</p>
            <ul>
              {add.data.warnings.map((warning) => (
                <li key={warning}>{warning}</li>
              ))}
            </ul>
          </div>
        )}
      </div>
      <div role="alert">
        {add.isError && (
          <div className="notice">
            <p>{fields.length ? "The engine file cannot be used:" : sentence(add.error)}</p>
            <ul>
              {fields.map((field) => (
                <li key={field.path + field.problem}>
                  <b className="figures">{field.path}</b> {field.problem}
                </li>
              ))}
            </ul>
          </div>
        )}
      </div>
    </section>
  );
}

/** The file's JSON; a text that is none is told where it breaks, before anything is sent. */
function parsed(name: string, text: string): Record<string, never> {
  try {
    return JSON.parse(text);
  } catch (fault) {
    throw new ApiProblem(400, `${name} is not JSON: ${(fault as Error).message}`);
  }
}
