/** Key and fetcher of every query, together. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, type Schemas, unwrap } from "./client";

const ofVersion = (version: number | null) => (version === null ? {} : { version });

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
    queryKey: ["engine", engineId, "cycle", version],
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/cycle", {
          params: { path: { engine_id: engineId }, query: ofVersion(version) },
        }),
      ),
    // A version of an engine never changes; the newest may be replaced, but not while we look.
    staleTime: Number.POSITIVE_INFINITY,
  });

export type SchoolsWish = {
  startDeg: number;
  direction: string;
  minMarginDeg: number;
  stops: string;
};
export type RouteWish = SchoolsWish & { method: string };

export const routeQuery = (engineId: number, version: number | null, wish: RouteWish) =>
  queryOptions({
    queryKey: ["engine", engineId, "route", version, wish],
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/route", {
          params: {
            path: { engine_id: engineId },
            query: {
              method: wish.method,
              start_deg: wish.startDeg,
              direction: wish.direction,
              min_margin_deg: wish.minMarginDeg,
              stops: wish.stops,
              ...ofVersion(version),
            },
          },
        }),
      ),
  });

export const schoolsQuery = (engineId: number, version: number | null, wish: SchoolsWish) =>
  queryOptions({
    queryKey: ["engine", engineId, "schools", version, wish],
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/schools", {
          params: {
            path: { engine_id: engineId },
            query: {
              start_deg: wish.startDeg,
              direction: wish.direction,
              min_margin_deg: wish.minMarginDeg,
              stops: wish.stops,
              ...ofVersion(version),
            },
          },
        }),
      ),
  });

export const effectQuery = (
  engineId: number,
  version: number | null,
  valve: number,
  gap: string,
  unit: "mm" | "thou",
) =>
  queryOptions({
    queryKey: ["engine", engineId, "effect", version, valve, gap, unit],
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/effect", {
          params: {
            path: { engine_id: engineId },
            query: { valve, gap, unit, ...ofVersion(version) },
          },
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const setHereQuery = (
  engineId: number,
  version: number | null,
  valve: number,
  gap: string,
  unit: "mm" | "thou",
  crankDeg: number,
) =>
  queryOptions({
    queryKey: ["engine", engineId, "set-here", version, valve, gap, unit, crankDeg],
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/set-here", {
          params: {
            path: { engine_id: engineId },
            query: { valve, gap, unit, crank_deg: crankDeg, ...ofVersion(version) },
          },
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const engineFileQuery = (engineId: number, version: number) =>
  queryOptions({
    queryKey: ["engine", engineId, "engine-file", version],
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/file", {
          params: { path: { engine_id: engineId }, query: { version } },
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const shimTablesQuery = (engineId: number, version: number | null) =>
  queryOptions({
    queryKey: ["engine", engineId, "shim-tables", version],
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/shim-tables", {
          params: { path: { engine_id: engineId }, query: ofVersion(version) },
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const patternsQuery = queryOptions({
  queryKey: ["patterns"],
  queryFn: () => unwrap(api.GET("/api/engine-patterns")),
  staleTime: Number.POSITIVE_INFINITY,
});

export const cautionsQuery = (engineId: number, version: number | null, standId: number | null) =>
  queryOptions({
    queryKey: ["engine", engineId, "cautions", version, standId],
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/cautions", {
          params: {
            path: { engine_id: engineId },
            query: { ...ofVersion(version), ...(standId === null ? {} : { stand_id: standId }) },
          },
        }),
      ),
  });

export const drillQuery = (drillId: number) =>
  queryOptions({
    queryKey: ["drills", drillId],
    queryFn: () =>
      unwrap(api.GET("/api/drills/{drill_id}", { params: { path: { drill_id: drillId } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const ownDrillsQuery = queryOptions({
  queryKey: ["drills"],
  queryFn: () => unwrap(api.GET("/api/drills")),
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

/** What a key of the passes that are being typed would be. */
export const pooledQuery = (standId: number, body: Schemas["PassesIn"]) =>
  queryOptions({
    queryKey: ["stands", standId, "passes", body],
    queryFn: () =>
      unwrap(
        api.POST("/api/stands/{stand_id}/passes/preview", {
          params: { path: { stand_id: standId } },
          body,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });

export const classDrillsQuery = (classId: number) =>
  queryOptions({
    queryKey: ["classes", classId, "drills"],
    queryFn: () => unwrap(api.GET("/api/classes/{class_id}/drills", inClass(classId))),
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

export const findingsQuery = (sheetId: number) =>
  queryOptions({
    queryKey: ["sheets", sheetId, "findings"],
    queryFn: () => unwrap(api.GET("/api/sheets/{sheet_id}/findings", ofSheet(sheetId))),
    refetchInterval: 5000,
  });

export const remarkQuery = (sheetId: number) =>
  queryOptions({
    queryKey: ["sheets", sheetId, "remark"],
    queryFn: () => unwrap(api.GET("/api/sheets/{sheet_id}/remark", ofSheet(sheetId))),
  });

export const rubricQuery = (sheetId: number) =>
  queryOptions({
    queryKey: ["sheets", sheetId, "rubric"],
    queryFn: () => unwrap(api.GET("/api/sheets/{sheet_id}/rubric", ofSheet(sheetId))),
    // What is being weighed must not be replaced under the instructor's fingers.
    staleTime: Number.POSITIVE_INFINITY,
  });

/** What a rubric that is being typed makes of the sheets; what was last made stays in sight. */
export const rubricLookQuery = (sheetId: number, body: Schemas["RubricIn"]) =>
  queryOptions({
    queryKey: ["sheets", sheetId, "rubric", body],
    queryFn: () =>
      unwrap(api.POST("/api/sheets/{sheet_id}/rubric/preview", { ...ofSheet(sheetId), body })),
    placeholderData: keepPreviousData,
    retry: false,
  });

export const studyQuery = (standId: number) =>
  queryOptions({
    queryKey: ["stands", standId, "study"],
    queryFn: () =>
      unwrap(api.GET("/api/stands/{stand_id}/study", { params: { path: { stand_id: standId } } })),
  });

export const handInQuery = (handInId: number) =>
  queryOptions({
    queryKey: ["hand-ins", handInId],
    queryFn: () =>
      unwrap(api.GET("/api/hand-ins/{hand_in_id}", { params: { path: { hand_in_id: handInId } } })),
  });

export const nextKeyQuery = (handInId: number) =>
  queryOptions({
    queryKey: ["hand-ins", handInId, "next-key"],
    queryFn: () =>
      unwrap(
        api.GET("/api/hand-ins/{hand_in_id}/next-key", {
          params: { path: { hand_in_id: handInId } },
        }),
      ),
  });

export const progressQuery = (classId: number, studentId: number) =>
  queryOptions({
    queryKey: ["classes", classId, "progress", studentId],
    queryFn: () =>
      unwrap(
        api.GET("/api/classes/{class_id}/students/{student_id}/progress", {
          params: { path: { class_id: classId, student_id: studentId } },
        }),
      ),
  });

export const ownProgressQuery = (classId: number) =>
  queryOptions({
    queryKey: ["classes", classId, "progress"],
    queryFn: () =>
      unwrap(
        api.GET("/api/classes/{class_id}/progress", { params: { path: { class_id: classId } } }),
      ),
  });

export const practiceQuery = (classId: number) =>
  queryOptions({
    queryKey: ["classes", classId, "practice"],
    queryFn: () => unwrap(api.GET("/api/classes/{class_id}/practice", inClass(classId))),
  });

export const practiceRunsQuery = (practiceId: number) =>
  queryOptions({
    queryKey: ["practice", practiceId, "runs"],
    queryFn: () =>
      unwrap(
        api.GET("/api/practice/{practice_id}/runs", {
          params: { path: { practice_id: practiceId } },
        }),
      ),
    refetchInterval: 5000,
  });

const ofRun = (runId: number) => ({ params: { path: { run_id: runId } } });

export const runQuery = (runId: number) =>
  queryOptions({
    queryKey: ["runs", runId],
    queryFn: () => unwrap(api.GET("/api/runs/{run_id}", ofRun(runId))),
    // What is being done must not be replaced under the student's hands.
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });

export const debriefQuery = (runId: number) =>
  queryOptions({
    queryKey: ["runs", runId, "debrief"],
    queryFn: () => unwrap(api.GET("/api/runs/{run_id}/debrief", ofRun(runId))),
  });

export const adviceQuery = (runId: number, valve: number, step: number) =>
  queryOptions({
    queryKey: ["runs", runId, "advice", valve, step],
    queryFn: () =>
      unwrap(
        api.GET("/api/runs/{run_id}/advice", {
          params: { path: { run_id: runId }, query: { valve } },
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });
