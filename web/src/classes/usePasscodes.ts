/**
 * Passcodes that were just made: told once, and kept in this page's memory until their instructor
 * says that they have them. Going to another tab or page loses nothing; signing out does.
 */
import { skipToken, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { keys } from "../api/keys";

const NOBODY: readonly Schemas["NewStudentOut"][] = [];
export type NewStudent = Schemas["NewStudentOut"];

export function usePasscodes(classId: number) {
  const queries = useQueryClient();
  const key = keys.passcodes(classId);
  const { data } = useQuery<readonly NewStudent[]>({
    queryKey: key,
    queryFn: skipToken,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: Number.POSITIVE_INFINITY,
  });
  return {
    people: data ?? NOBODY,
    /** The newest passcode of a person counts. */
    add(fresh: readonly NewStudent[]) {
      const ids = new Set(fresh.map((person) => person.id));
      queries.setQueryData<readonly NewStudent[]>(key, (before = []) => [
        ...before.filter((person) => !ids.has(person.id)),
        ...fresh,
      ]);
    },
    done: () => queries.setQueryData<readonly NewStudent[]>(key, []),
  };
}
