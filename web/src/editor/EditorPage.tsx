/** Writing an engine with the manual in hand: a new one from a pattern, or the next version. */
import { useMutation, useQuery, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Alert, Button } from "antd";
import { useMemo, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { ApiProblem, api, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { engineFileQuery, enginesQuery, patternsQuery } from "../api/queries";
import { Failure, Waiting } from "../app/feedback";
import { type LongForm, useLongForm } from "../app/useLongForm";
import { Crank } from "../bench/crank";
import { Ribbon } from "../bench/Ribbon";
import { Desk } from "../kit/Desk";
import { FormClashes } from "../kit/FormClashes";
import { Problem } from "../kit/Problem";
import { Checks } from "./Checks";
import { Faults } from "./Fields";
import { type Change, type Form, toDocument } from "./form";
import { Head } from "./Head";
import { ManualSteps } from "./ManualSteps";
import { fromDocument } from "./opened";
import { Patterns } from "./Patterns";
import { type Draft, isDraft, NO_DRAFT, useEditor } from "./useEditor";
import { type Checked, usePreview } from "./usePreview";
import "./editor.css";

export default function EditorPage() {
  const { engineId } = useParams();
  const draft = useLongForm(`engine-${engineId ?? "new"}`, NO_DRAFT);
  // The server may have what another device typed: nothing is begun over it.
  if (!draft.ready) return <Waiting />;
  return <EditorOf key={engineId} engineId={engineId} draft={draft} />;
}

type Of = { engineId: string | undefined; draft: LongForm<Draft> };

function EditorOf({ engineId, draft }: Of) {
  const [restored, setRestored] = useState(isDraft(draft.typed));
  const [chosen, setChosen] = useState<Form | null>(null);
  const patterns = useQuery({ ...patternsQuery, enabled: engineId === undefined });
  if (restored && isDraft(draft.typed)) {
    return (
      <Editor
        key="draft"
        first={draft.typed}
        engineId={engineId}
        basedOn={draft.typed.basedOn}
        draft={draft}
        restored
        onStartOver={() => {
          draft.forget();
          setRestored(false);
        }}
      />
    );
  }
  if (engineId !== undefined) return <Existing engineId={engineId} draft={draft} />;
  if (chosen !== null) {
    return (
      <Editor
        first={chosen}
        engineId={undefined}
        basedOn={null}
        draft={draft}
        onStartOver={() => {
          draft.forget();
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

function Existing({ engineId, draft }: Of & { engineId: string }) {
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
      draft={draft}
      onStartOver={() => {
        draft.forget();
        setAgain(again + 1);
      }}
    />
  );
}

type EditorProps = {
  first: Form;
  engineId: string | undefined;
  basedOn: number | null;
  draft: LongForm<Draft>;
  restored?: boolean;
  onStartOver: () => void;
};

function Editor(props: EditorProps) {
  const { first, engineId, basedOn, draft, restored = false, onStartOver } = props;
  const { form, change, undo, touched } = useEditor(first, draft, basedOn);
  const document = useMemo(() => toDocument(form), [form]);
  const checked = usePreview(document);
  const shelve = useShelve(props, document);
  const ready = checked.faults.length === 0 && !checked.stale && form.name.trim() !== "";
  return (
    <Faults.Provider value={checked.faults}>
      <Desk
        title={form.name || "An engine without a name"}
        from={{ to: "/engines", title: "Engines" }}
        about={
          engineId === undefined
            ? "A new engine. Fill in what the manual says, in its order."
            : `Version ${(basedOn ?? 1) + 1}. Sheets and stands keep the version they were made with.`
        }
        ways={
          <>
            <Button disabled={!touched} onClick={undo}>
              Undo
            </Button>
            {(restored || touched || engineId === undefined) && (
              <Button onClick={onStartOver}>Start over</Button>
            )}
            <Button
              type="primary"
              disabled={!ready}
              loading={shelve.isPending}
              onClick={() => shelve.mutate()}
            >
              Put it on the shelf
            </Button>
          </>
        }
      >
        {restored && (
          <Alert
            role="status"
            type="info"
            title="What you typed last time was kept; carry on, or start over."
          />
        )}
        <FormClashes form={draft} nameOf={nameOfField} />
        <Problem error={shelve.error} />
        {shelve.error instanceof ApiProblem && shelve.error.status === 409 && (
          <p>Your text stays here until you start over.</p>
        )}
        <div className="editor-body">
          <div className="editor-steps">
            <ManualSteps form={form} change={change} />
          </div>
          <Drawing form={form} change={change} checked={checked} />
        </div>
      </Desk>
    </Faults.Provider>
  );
}

/** `roles.intake.opens` as a person reads it. */
function nameOfField(path: string): string {
  const words = path.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`).split(".");
  const said = words.join(", ");
  return said.charAt(0).toUpperCase() + said.slice(1);
}

type DrawingProps = { form: Form; change: Change; checked: Checked };

function Drawing({ form, change, checked }: DrawingProps) {
  const [crank] = useState(() => new Crank(0));
  return (
    <div className="editor-drawing">
      <Checks checked={checked} />
      <Head form={form} onValves={(valves) => change({ valves })} />
      {checked.table && (
        <div className={checked.stale ? "editor-ribbon stale" : "editor-ribbon"}>
          <Ribbon table={checked.table} crank={crank} />
        </div>
      )}
    </div>
  );
}

function useShelve({ engineId, basedOn, draft }: EditorProps, document: object) {
  const queries = useQueryClient();
  const go = useNavigate();
  return useMutation({
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
      draft.forget();
      queries.invalidateQueries(enginesQuery);
      // What was computed for "the newest version" is of the one before.
      queries.removeQueries({ queryKey: keys.engine(engine.id) });
      go(`/bench/${engine.id}`);
    },
  });
}
