/** Key and fetcher of every query, together. */
import { queryOptions } from "@tanstack/react-query";
import { api, unwrap } from "./client";

export const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: () => unwrap(api.GET("/api/session")),
  staleTime: Number.POSITIVE_INFINITY,
});

export const enginesQuery = queryOptions({
  queryKey: ["engines"],
  queryFn: () => unwrap(api.GET("/api/engines")),
});

export const cycleQuery = (engineId: number, version: number | null) =>
  queryOptions({
    queryKey: ["cycle", engineId, version],
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/cycle", {
          params: { path: { engine_id: engineId }, query: version === null ? {} : { version } },
        }),
      ),
    // A version of an engine never changes; the newest may be replaced, but not while we look.
    staleTime: Number.POSITIVE_INFINITY,
  });

export type RouteWish = { method: string; startDeg: number; direction: string };

export const routeQuery = (engineId: number, version: number | null, wish: RouteWish) =>
  queryOptions({
    queryKey: ["route", engineId, version, wish],
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/route", {
          params: {
            path: { engine_id: engineId },
            query: {
              method: wish.method,
              start_deg: wish.startDeg,
              direction: wish.direction,
              ...(version === null ? {} : { version }),
            },
          },
        }),
      ),
  });

export const classesQuery = queryOptions({
  queryKey: ["classes"],
  queryFn: () => unwrap(api.GET("/api/classes")),
});

const inClass = (classId: number) => ({ params: { path: { class_id: classId } } });

export const classQuery = (classId: number) =>
  queryOptions({
    queryKey: ["classes", classId],
    queryFn: () => unwrap(api.GET("/api/classes/{class_id}", inClass(classId))),
  });

export const standsQuery = (classId: number) =>
  queryOptions({
    queryKey: ["classes", classId, "stands"],
    queryFn: () => unwrap(api.GET("/api/classes/{class_id}/stands", inClass(classId))),
  });

export const classSheetsQuery = (classId: number) =>
  queryOptions({
    queryKey: ["classes", classId, "sheets"],
    queryFn: () => unwrap(api.GET("/api/classes/{class_id}/sheets", inClass(classId))),
  });

export const workQuery = queryOptions({
  queryKey: ["work"],
  queryFn: () => unwrap(api.GET("/api/work")),
});

const ofSheet = (sheetId: number) => ({ params: { path: { sheet_id: sheetId } } });

export const sheetQuery = (sheetId: number) =>
  queryOptions({
    queryKey: ["sheets", sheetId],
    queryFn: () => unwrap(api.GET("/api/sheets/{sheet_id}", ofSheet(sheetId))),
    // What is being typed must not be replaced under the student's fingers.
    staleTime: Number.POSITIVE_INFINITY,
  });

export const boardQuery = (sheetId: number) =>
  queryOptions({
    queryKey: ["sheets", sheetId, "board"],
    queryFn: () => unwrap(api.GET("/api/sheets/{sheet_id}/board", ofSheet(sheetId))),
    refetchInterval: 5000,
  });

export const handInQuery = (handInId: number) =>
  queryOptions({
    queryKey: ["hand-ins", handInId],
    queryFn: () =>
      unwrap(api.GET("/api/hand-ins/{hand_in_id}", { params: { path: { hand_in_id: handInId } } })),
  });
