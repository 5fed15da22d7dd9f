/** Who is signed in, and how they sign in and out. */

import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { api, isSignedOut, onSignedOut, type Schemas, signedIn, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { forgetAllBut, sessionQuery } from "../api/queries";
import { forgetOwn, keepAgain } from "./own";
import { forgetTab } from "./useKept";

export type Person = Schemas["Person"];
export type Unit = "mm" | "thou";

/** The signed-in person; only for components inside the shell. */
export function usePerson(): Person {
  const { person } = useSuspenseQuery(sessionQuery).data;
  if (person === null) throw new Error("nobody is signed in");
  return person;
}

export function useUnit(): Unit {
  return usePerson().unit === "thou" ? "thou" : "mm";
}

export function useSignIn() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["SignIn"]) => unwrap(api.POST("/api/session", { body })),
    onSuccess: async (session) => {
      // The page may still be asking who is signed in: what it is told then was true before.
      await queries.cancelQueries(sessionQuery);
      queries.setQueryData(sessionQuery.queryKey, session);
      keepAgain();
      signedIn();
    },
  });
}

/** Told to the window when somebody has signed in again in place: what waits is sent. */
export const SIGNED_IN = "edrix:signed-in";

/** Whether the session ended while its person was at work: then they sign in above the page. */
export function useSessionEnded(): boolean {
  return useSyncExternalStore(onSignedOut, isSignedOut);
}

/** Signs the same person in again, and leaves everything on the page as it is. */
export function useSignInAgain(person: Person) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (passcode: string) =>
      unwrap(api.POST("/api/session", { body: { sign_in_name: person.sign_in_name, passcode } })),
    onSuccess: (session) => {
      queries.setQueryData(sessionQuery.queryKey, session);
      keepAgain();
      signedIn();
      queries.invalidateQueries({ predicate: (query) => query.state.status === "error" });
      window.dispatchEvent(new Event(SIGNED_IN));
    },
  });
}

export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (_person: Person) => unwrap(api.DELETE("/api/session")),
    onSuccess: (_answer, person) => {
      queries.setQueryData(sessionQuery.queryKey, (session) =>
        session === undefined ? session : { ...session, person: null },
      );
      forgetTab();
      forgetOwn(person.id);
      forgetAllBut(queries, keys.session);
    },
  });
}

export function useChooseUnit() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (unit: Unit) => unwrap(api.PUT("/api/me/unit", { body: { unit } })),
    onMutate: (unit) => {
      const session = queries.getQueryData(sessionQuery.queryKey);
      if (session?.person) {
        queries.setQueryData(sessionQuery.queryKey, {
          ...session,
          person: { ...session.person, unit },
        });
      }
    },
  });
}
