/** One's own account: who is signed in, and a passcode of one's own choice. */
import { useMutation } from "@tanstack/react-query";
import { type FormEvent, useEffect, useId, useState } from "react";
import { ApiProblem, api, unwrap } from "../api/client";
import { sentence } from "../app/feedback";
import { usePerson } from "../app/session";
import { CalendarFeed } from "./CalendarFeed";
import { OnThisDevice } from "./OnThisDevice";
import "./me.css";

export default function MePage() {
  const person = usePerson();
  useEffect(() => {
    document.title = "My account · Edrix";
  }, []);
  return (
    <div className="me">
      <h1>{person.display_name}</h1>
      <p className="soft">
        Signs in as <span className="figures">{person.sign_in_name}</span>.{" "}
        {person.may_teach ? "Teaches." : "Is the name wrong? Your instructor puts it right."}
      </p>
      {!person.may_teach && <OnThisDevice />}
      <CalendarFeed />
      <PasscodeForm />
    </div>
  );
}

function PasscodeForm() {
  const [current, setCurrent] = useState("");
  const [fresh, setFresh] = useState("");
  const [shown, setShown] = useState(false);
  const change = useMutation({
    mutationFn: () => unwrap(api.PUT("/api/me/passcode", { body: { current, new: fresh } })),
    onSuccess: () => {
      setCurrent("");
      setFresh("");
    },
  });
  const faults = change.error instanceof ApiProblem ? change.error.fields : [];
  const faultOf = (field: string) => faults.find(({ path }) => path === field)?.problem;
  return (
    <form
      className="card"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        change.mutate();
      }}
    >
      <h2>A passcode of your own</h2>
      <Secret
        label="Passcode now"
        value={current}
        onChange={setCurrent}
        complete="current-password"
        shown={shown}
        fault={faultOf("current")}
      />
      <Secret
        label="New passcode"
        value={fresh}
        onChange={setFresh}
        complete="new-password"
        shown={shown}
        fault={faultOf("new")}
        about="Eight characters or more: a few words are easy to type on a phone. It ends the sign-in on every other device."
      />
      <label className="check">
        <input type="checkbox" checked={shown} onChange={() => setShown(!shown)} />
        Show what I type
      </label>
      <div role="status">
        {change.isError && faults.length === 0 && (
          <p className="notice">{sentence(change.error)}</p>
        )}
        {change.isSuccess && <p className="notice calm">Changed. Use the new one from now on.</p>}
      </div>
      <button className="button main" type="submit" disabled={change.isPending}>
        Change passcode
      </button>
    </form>
  );
}

type SecretProps = {
  label: string;
  value: string;
  onChange: (typed: string) => void;
  complete: string;
  shown: boolean;
  fault: string | undefined;
  about?: string;
};

function Secret({ label, value, onChange, complete, shown, fault, about }: SecretProps) {
  const id = useId();
  return (
    <div className="secret">
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        className="field"
        type={shown ? "text" : "password"}
        autoComplete={complete}
        required
        maxLength={200}
        value={value}
        aria-invalid={fault !== undefined}
        aria-describedby={`${id}-about`}
        onChange={(event) => onChange(event.target.value)}
      />
      <p id={`${id}-about`} className={fault ? "fault" : "soft"}>
        {fault ? `This ${fault}.` : about}
      </p>
    </div>
  );
}
