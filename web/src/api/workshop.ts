/** Queries of the workshop: the hall, a stand's trend and log, the shim store. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, unwrap } from "./client";
import { keys } from "./keys";

export const hallQuery = queryOptions({
  queryKey: keys.stands,
  queryFn: () => unwrap(api.GET("/api/stands")),
});

export const storeQuery = queryOptions({
  queryKey: keys.store,
  queryFn: () => unwrap(api.GET("/api/store")),
});

const ofStand = (standId: number) => ({ path: { stand_id: standId } });

export const trendQuery = (standId: number, withSheets: boolean) =>
  queryOptions({
    queryKey: keys.ofStand(standId, "trend", withSheets),
    queryFn: () =>
      unwrap(
        api.GET("/api/stands/{stand_id}/trend", {
          params: { ...ofStand(standId), query: { with_sheets: withSheets } },
        }),
      ),
    placeholderData: keepPreviousData,
  });

/** A page of a stand's log, newest first; `what` are the kinds of entry, all where there are none. */
export const logQuery = (standId: number, skip: number, what: readonly string[]) =>
  queryOptions({
    queryKey: keys.ofStand(standId, "log", skip, ...what),
    queryFn: () =>
      unwrap(
        api.GET("/api/stands/{stand_id}/log", {
          params: { ...ofStand(standId), query: { skip, what: [...what] } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
