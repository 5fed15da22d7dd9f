/** What a student will want next is asked for in a quiet moment, so that it opens where the network
 * has gone by then: the sheets that are to be done, their list, and what they may practise on. */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import {
  cautionsQuery,
  classesQuery,
  methodsQuery,
  practiceQuery,
  sheetQuery,
  workQuery,
} from "../api/queries";
import { ownRotaQuery } from "../api/rota";

const QUIET_MS = 4000;
const MOST_SHEETS = 4;
/** Not again at every visit of Today. */
const FRESH_MS = 10 * 60 * 1000;

export function useKeptAhead(sheets: readonly { id: number }[]) {
  const queries = useQueryClient();
  const wanted = sheets
    .slice(0, MOST_SHEETS)
    .map(({ id }) => id)
    .join(" ");
  useEffect(() => {
    const fresh = { staleTime: FRESH_MS, retry: false };
    const ask = async () => {
      await queries.prefetchQuery({ ...workQuery, ...fresh });
      for (const id of wanted.split(" ").filter(Boolean)) {
        const one = sheetQuery(Number(id));
        await queries.prefetchQuery({ ...one, ...fresh });
        const sheet = queries.getQueryData(one.queryKey);
        if (sheet === undefined) continue;
        const { engine_id: engine, engine_version: version, stand_id: stand } = sheet;
        await queries.prefetchQuery({ ...cautionsQuery(engine, version, stand), ...fresh });
      }
      await queries.prefetchQuery(methodsQuery);
      await queries.prefetchQuery({ ...ownRotaQuery, ...fresh });
      await queries.prefetchQuery({ ...classesQuery, ...fresh });
      for (const one of queries.getQueryData(classesQuery.queryKey) ?? []) {
        await queries.prefetchQuery({ ...practiceQuery(one.id), ...fresh });
      }
    };
    const quiet = setTimeout(ask, QUIET_MS);
    return () => clearTimeout(quiet);
  }, [queries, wanted]);
}
