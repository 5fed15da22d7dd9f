/** Writing an engine with the manual in hand: a new one from a pattern, or the next version. */
import { useMutation, useQuery, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { ApiProblem, api, unwrap } from "../api/client";
import { engineFileQuery, enginesQuery, patternsQuery } from "../api/queries";
import { Failure, sentence, Waiting } from "../app/feedback";
import { usePerson } from "../app/session";
import { Crank } from "../bench/crank";
import { Ribbon } from "../bench/Ribbon";
import { Checks } from "./Checks";
import { Faults } from "./Fields";
import { type Form, fromDocument, toDocument } from "./form";
import { Head } from "./Head";
import { ManualSteps } from "./ManualSteps";
import { Patterns } from "./Patterns";
import { forgetDraft, keptDraft, keyOf, useEditor } from "./useEditor";
import { usePreview } from "./usePreview";
import "./editor.css";

export default function EditorPage() {
  const { engineId } = useParams();
  const person = usePerson();
  const key = keyOf(person.id, engineId ?? "new");
  const [draft, setDraft] = useState(() => keptDraft(key));
  const [chosen, setChosen] = useState<Form | null>(null);
  const patterns = useQuery({ ...patternsQuery, enabled: engineId === undefined });
  if (draft !== null) {
    return (
      <Editor
        key="draft"
        first={draft.form}
        engineId={engineId}
        basedOn={draft.basedOn}
        draftKey={key}
        restored
        onStartOver={() => {
          forgetDraft(key);
          setDraft(null);
        }}
      />
    );
  }
  if (engineId !== undefined) return <Existing engineId={engineId} draftKey={key} />;
  if (chosen !== null) {
    return (
      <Editor
        first={chosen}
        engineId={undefined}
        basedOn={null}
        draftKey={key}
        onStartOver={() => {
          forgetDraft(key);
          setChosen(null);
        }}
      />
    );
  }
  if (patterns.isError) return <Failure error={patterns.error} retry={() => patterns.refetch()} />;
  if (!patterns.data) return <Waiting />;
  return (
    <Patterns
      patterns={patterns.data}
      onChoose={(pattern) => setChosen(fromDocument(pattern.document))}
    />
  );
}

function Existing({ engineId, draftKey }: { engineId: string; draftKey: string }) {
  const { data: engines } = useSuspenseQuery(enginesQuery);
  const version = engines.find((engine) => engine.id === Number(engineId))?.version ?? 1;
  const { data: document } = useSuspenseQuery(engineFileQuery(Number(engineId), version));
  const [again, setAgain] = useState(0);
  return (
    <Editor
      key={again}
      first={fromDocument(document)}
      engineId={engineId}
      basedOn={version}
      draftKey={draftKey}
      onStartOver={() => {
        forgetDraft(draftKey);
        setAgain(again + 1);
      }}
    />
  );
}

type EditorProps = {
  first: Form;
  engineId: string | undefined;
  basedOn: number | null;
  draftKey: string;
  restored?: boolean;
  onStartOver: () => void;
};

function Editor({
  first,
  engineId,
  basedOn,
  draftKey,
  restored = false,
  onStartOver,
}: EditorProps) {
  const { form, change, undo, touched } = useEditor(first, draftKey, basedOn);
  const document = useMemo(() => toDocument(form), [form]);
  const checked = usePreview(document);
  const [crank] = useState(() => new Crank(0));
  const queries = useQueryClient();
  const go = useNavigate();
  useEffect(() => {
    window.document.title = "Engine editor · Edrix";
  }, []);
  const shelve = useMutation({
    mutationFn: () => {
      const body = document as Record<string, never>;
      if (engineId === undefined) return unwrap(api.POST("/api/engines", { body }));
      return unwrap(
        api.POST("/api/engines/{engine_id}/versions", {
          params: { path: { engine_id: Number(engineId) }, query: { based_on: basedOn ?? 1 } },
          body,
        }),
      );
    },
    onSuccess: ({ engine }) => {
      forgetDraft(draftKey);
      queries.invalidateQueries(enginesQuery);
      // What was computed for "the newest version" is of the one before.
      queries.removeQueries({ queryKey: ["engine", engine.id] });
      go(`/bench/${engine.id}`);
    },
  });
  const ready = checked.faults.length === 0 && !checked.stale && form.name.trim() !== "";
  return (
    <Faults.Provider value={checked.faults}>
      <div className="editor">
        <header className="place-head">
          <div>
            <p>
              <Link to="/engines">Engines</Link>
            </p>
            <h1>{form.name || "An engine without a name"}</h1>
            <p>
              {engineId === undefined
                ? "A new engine. Fill in what the manual says, in its order."
                : `Version ${(basedOn ?? 1) + 1}. Sheets and stands keep the version they were made with.`}
            </p>
          </div>
          <div className="editor-ways">
            <button type="button" className="button" disabled={!touched} onClick={undo}>
              Undo
            </button>
            {(restored || touched || engineId === undefined) && (
              <button type="button" className="button" onClick={onStartOver}>
                Start over
              </button>
            )}
            <button
              type="button"
              className="button main"
              disabled={!ready || shelve.isPending}
              onClick={() => shelve.mutate()}
            >
              {shelve.isPending ? "Shelving…" : "Put it on the shelf"}
            </button>
          </div>
        </header>
        {restored && (
          <p className="notice calm" role="status">
            What you typed last time was kept on this device; go on, or start over.
          </p>
        )}
        {shelve.isError && (
          <p className="notice" role="alert">
            {sentence(shelve.error)}
            {shelve.error instanceof ApiProblem && shelve.error.status === 409 && (
              <> Your text stays here until you start over.</>
            )}
          </p>
        )}
        <div className="editor-body">
          <div className="editor-steps">
            <ManualSteps form={form} change={change} />
          </div>
          <div className="editor-drawing">
            <Checks checked={checked} />
            <Head form={form} onValves={(valves) => change({ valves })} />
            {checked.table && (
              <div className={checked.stale ? "editor-ribbon stale" : "editor-ribbon"}>
                <Ribbon table={checked.table} crank={crank} />
              </div>
            )}
          </div>
        </div>
      </div>
    </Faults.Provider>
  );
}
