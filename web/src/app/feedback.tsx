/** Waiting, failing and being empty, the same everywhere. */
import { type ReactNode, useEffect } from "react";
import { Link } from "react-router";
import { isAway } from "../api/again";
import { ApiProblem } from "../api/client";

export function Waiting() {
  return (
    <div className="waiting" role="status">
      <span className="visually-hidden">Loading</span>
      <i />
      <i />
      <i />
    </div>
  );
}

/** A sentence for any error: the server's own, or that it was our fault. */
export function sentence(error: unknown): string {
  if (error instanceof ApiProblem) return error.message;
  if (isLoadFailure(error)) {
    return "This part of Edrix could not be loaded. Check the network and try again.";
  }
  return "This page has failed; that is our fault. Reload it, and tell us if it happens again.";
}

/** A bundle that did not come: the network is down, or a new version has replaced it. */
export function isLoadFailure(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  if (/preload CSS/i.test(error.message)) return true;
  return error.name === "TypeError" && /module/i.test(error.message);
}

/** Above what a device keeps, while the server cannot be asked or refuses. */
export function AsLastKnown({ error }: { error: Error | null }) {
  if (error === null) return null;
  return (
    <p className="notice" role="alert">
      {isAway(error) ? "The network is away." : sentence(error)} This is what was last known.
    </p>
  );
}

export function Failure({ error, retry }: { error: unknown; retry?: () => void }) {
  useEffect(() => {
    // What failed for want of a network is asked again when it is back.
    if (retry === undefined || !(error instanceof ApiProblem) || error.status !== 0) return;
    window.addEventListener("online", retry);
    return () => window.removeEventListener("online", retry);
  }, [error, retry]);
  return (
    <div className="notice" role="alert">
      <p>{sentence(error)}</p>
      <p className="failure-ways">
        {retry && (
          <button type="button" className="button" onClick={retry}>
            Try again
          </button>
        )}{" "}
        <Link className="button" to="/">
          To the start
        </Link>
      </p>
    </div>
  );
}

export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="card empty">
      <h2>{title}</h2>
      <div className="soft">{children}</div>
    </div>
  );
}
