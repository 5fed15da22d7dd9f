/** The sign-in page. */
import { type FormEvent, useId } from "react";
import { sentence } from "./feedback";
import { useSignIn } from "./session";

export function SignIn() {
  const signIn = useSignIn();
  const faultId = useId();

  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    signIn.mutate({
      sign_in_name: String(form.get("name") ?? ""),
      passcode: String(form.get("passcode") ?? ""),
    });
  }

  return (
    <main className="sign-in">
      <form className="card" onSubmit={submit}>
        <div>
          <h1>Edrix</h1>
          <p className="soft">Valve clearance, found, measured and set right.</p>
        </div>
        <label>
          Sign-in name
          <input
            className="field"
            name="name"
            autoComplete="username"
            autoCapitalize="none"
            spellCheck={false}
            required
            maxLength={60}
            aria-describedby={faultId}
          />
        </label>
        <label>
          Passcode
          <input
            className="field"
            name="passcode"
            type="password"
            autoComplete="current-password"
            required
            maxLength={200}
            aria-describedby={faultId}
          />
        </label>
        <div id={faultId} role="alert">
          {signIn.isError && <p className="notice">{sentence(signIn.error)}</p>}
        </div>
        <button className="button main" type="submit" disabled={signIn.isPending}>
          {signIn.isPending ? "Signing in…" : "Sign in"}
        </button>
        <p className="soft">
          Your instructor gives you both, and a new passcode if it is lost. An instructor who has
          lost theirs asks whoever runs this server.
        </p>
      </form>
    </main>
  );
}
