/** The school's instructors, for its heads: who teaches, new passcodes, rights given and taken. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { App, Button, Switch } from "antd";
import { useState } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { instructorsQuery } from "../api/queries";
import { sentence } from "../app/feedback";
import { Ask } from "../kit/Ask";
import { DataTable } from "../kit/DataTable";
import { Desk } from "../kit/Desk";
import { NewNamed } from "../kit/NewNamed";
import { Problem } from "../kit/Problem";
import { Named } from "../kit/Rename";
import { ShopTolerance } from "./ShopTolerance";

type Instructor = Schemas["InstructorOut"];
type Fresh = Schemas["WithPasscodeOut"];

export default function SchoolPage() {
  const [told, setTold] = useState<Fresh | null>(null);
  return (
    <Desk
      title="Instructors"
      about="Who teaches at this school. A head adds instructors, renews their passcodes, and gives and takes these rights."
      ways={<NewInstructor onMade={setTold} />}
    >
      {told && <Told fresh={told} onDone={() => setTold(null)} />}
      <Instructors onRenewed={setTold} />
      <ShopTolerance />
    </Desk>
  );
}

function Instructors({ onRenewed }: { onRenewed: (fresh: Fresh) => void }) {
  const { data: people } = useSuspenseQuery(instructorsQuery);
  const [asked, setAsked] = useState<Instructor | null>(null);
  const change = useChange();
  const renew = useMutation({
    mutationFn: (person: Instructor) =>
      unwrap(
        api.POST("/api/instructors/{person_id}/passcode", {
          params: { path: { person_id: person.id } },
        }),
      ),
    onSuccess: onRenewed,
    onSettled: () => setAsked(null),
  });
  return (
    <>
      <Problem error={renew.error} />
      <DataTable
        label="Instructors"
        rows={people}
        keyOf={(person) => person.id}
        columns={[
          {
            title: "Instructor",
            show: (p: Instructor) => (
              <Named
                name={p.display_name}
                maxLength={120}
                about={`Signs in as ${p.sign_in_name}, as before.`}
                save={(name) => changeInstructor(p.id, { name })}
              >
                {p.display_name}
              </Named>
            ),
            sort: (p) => p.display_name,
            find: (p) => p.display_name,
          },
          {
            title: "Sign-in name",
            show: (p) => <span className="figures">{p.sign_in_name}</span>,
            sort: (p) => p.sign_in_name,
          },
          {
            title: "Teaches",
            show: (p) => (
              <Switch
                checked={p.may_teach}
                aria-label={`${p.display_name} teaches`}
                onChange={(on) => change.mutate([p, { may_teach: on }])}
              />
            ),
          },
          {
            title: "Head",
            show: (p) => (
              <Switch
                checked={p.is_head}
                aria-label={`${p.display_name} is head`}
                onChange={(on) => change.mutate([p, { is_head: on }])}
              />
            ),
          },
          {
            title: "Passcode",
            right: true,
            show: (p) => <Button onClick={() => setAsked(p)}>New passcode</Button>,
          },
        ]}
      />
      <p className="soft">
        Taking the right to teach ends nothing: classes, sheets and marks stay, and so does who made
        them.
      </p>
      <Ask
        open={asked !== null}
        title={`New passcode for ${asked?.display_name ?? ""}?`}
        instead="Keep the old one"
        does="Make a new passcode"
        pending={renew.isPending}
        onClose={() => setAsked(null)}
        onConfirm={() => asked && renew.mutate(asked)}
      >
        <p>The old passcode ends at once, and so does every session with it.</p>
      </Ask>
    </>
  );
}

function Told({ fresh, onDone }: { fresh: Fresh; onDone: () => void }) {
  return (
    <section className="notice calm" aria-label="Passcode">
      <p>
        <b>{fresh.display_name}</b> signs in as{" "}
        <span className="figures">{fresh.sign_in_name}</span> with{" "}
        <b className="figures">{fresh.passcode}</b>. It is told this once.
      </p>
      <Button onClick={onDone}>I have it</Button>
    </section>
  );
}

function changeInstructor(personId: number, body: Schemas["InstructorChanges"]) {
  const place = { params: { path: { person_id: personId } } };
  return unwrap(api.PATCH("/api/instructors/{person_id}", { ...place, body }));
}

function useChange() {
  const queries = useQueryClient();
  const { message } = App.useApp();
  return useMutation({
    mutationFn: ([person, body]: [Instructor, Schemas["InstructorChanges"]]) =>
      changeInstructor(person.id, body),
    onError: (error) => void message.error?.(sentence(error)),
    onSettled: () => {
      queries.invalidateQueries({ queryKey: keys.instructors });
      queries.invalidateQueries({ queryKey: keys.session });
    },
  });
}

function NewInstructor({ onMade }: { onMade: (made: Fresh) => void }) {
  const queries = useQueryClient();
  return (
    <NewNamed
      title="Add an instructor"
      does="Add"
      wanted="Give the person's name"
      maxLength={120}
      make={(body: Schemas["NewInstructor"]) => unwrap(api.POST("/api/instructors", { body }))}
      onMade={(made) => {
        queries.invalidateQueries({ queryKey: keys.instructors });
        onMade(made);
      }}
    />
  );
}
