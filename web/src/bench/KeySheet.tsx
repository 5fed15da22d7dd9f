/** The sheet that lists the keys. */
import type { Ref } from "react";
import { KEYS } from "./useTurningKeys";

export function KeySheet({ ref }: { ref: Ref<HTMLDialogElement> }) {
  return (
    <dialog ref={ref} className="card key-sheet" aria-labelledby="keys-title">
      <h2 id="keys-title">Turning by keys</h2>
      <dl>
        {KEYS.map(([keys, does]) => (
          <div key={keys}>
            <dt className="figures">{keys}</dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
      <form method="dialog">
        <button type="submit" className="button main">
          Close
        </button>
      </form>
    </dialog>
  );
}
