/** A session that ended while somebody was at work: they sign in above the page, and go on. */
import { type FormEvent, useId, useState } from "react";
import { Dialog } from "./Dialog";
import { sentence } from "./feedback";
import { type Person, useSessionEnded, useSignInAgain } from "./session";

export function SignInAgain({ person }: { person: Person }) {
  const ended = useSessionEnded();
  return ended ? <Again person={person} /> : null;
}

function Again({ person }: { person: Person }) {
  const id = useId();
  const [passcode, setPasscode] = useState("");
  const signIn = useSignInAgain(person);
  return (
    <Dialog open title="Sign in again" onClose={() => undefined}>
      <form
        className="again"
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          signIn.mutate(passcode);
        }}
      >
        <p>
          Your sign-in has ended. Nothing on this page is lost: sign in as{" "}
          <b>{person.display_name}</b> and go on.
        </p>
        <input type="hidden" name="username" autoComplete="username" value={person.sign_in_name} />
        <label htmlFor={id}>Passcode</label>
        <input
          id={id}
          className="field"
          type="password"
          autoComplete="current-password"
          required
          maxLength={200}
          value={passcode}
          onChange={(event) => setPasscode(event.target.value)}
        />
        <div role="alert">
          {signIn.isError && <p className="notice">{sentence(signIn.error)}</p>}
        </div>
        <div className="dialog-ways">
          <button type="submit" className="button main" disabled={signIn.isPending}>
            {signIn.isPending ? "Signing in…" : "Sign in"}
          </button>
          <button type="button" className="button" onClick={() => window.location.assign("/")}>
            I am somebody else
          </button>
        </div>
      </form>
    </Dialog>
  );
}
