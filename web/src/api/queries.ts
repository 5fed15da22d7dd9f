/** Key and fetcher of every query, together; the keys themselves are in `keys.ts`. */
import { keepPreviousData, type QueryClient, queryOptions } from "@tanstack/react-query";
import { api, type Schemas, unwrap } from "./client";
import { keys } from "./keys";

/** Nothing that one person saw stays for the next one at this device. */
export function forgetAllBut(client: QueryClient, kept: readonly string[]) {
  client.removeQueries({ predicate: (query) => query.queryKey[0] !== kept[0] });
}

const ofVersion = (version: number | null) => (version === null ? {} : { version });

export const sessionQuery = queryOptions({
  queryKey: keys.session,
  queryFn: async ({ client }) => {
    const before = client.getQueryData<Schemas["Session"]>(keys.session)?.person;
    const now = await unwrap(api.GET("/api/session"));
    // A device that was left to another shows nothing of whom it knew before.
    if (before && before.id !== now.person?.id) forgetAllBut(client, keys.session);
    return now;
  },
  staleTime: Number.POSITIVE_INFINITY,
});

/** Who teaches at this school; for its heads. */
export const instructorsQuery = queryOptions({
  queryKey: keys.instructors,
  queryFn: () => unwrap(api.GET("/api/instructors")),
});

export const enginesQuery = queryOptions({
  queryKey: keys.engines,
  queryFn: () => unwrap(api.GET("/api/engines")),
});

export const cycleQuery = (engineId: number, version: number | null) =>
  queryOptions({
    queryKey: keys.ofEngine(engineId, "cycle", version),
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/cycle", {
          params: { path: { engine_id: engineId }, query: ofVersion(version) },
        }),
      ),
    // A version of an engine never changes; the newest may be replaced, but not while we look.
    staleTime: Number.POSITIVE_INFINITY,
  });

export type MethodsWish = {
  startDeg: number;
  direction: string;
  minMarginDeg: number;
  stops: string;
};
export type RouteWish = MethodsWish & { method: string };

export const routeQuery = (engineId: number, version: number | null, wish: RouteWish) =>
  queryOptions({
    queryKey: keys.ofEngine(engineId, "route", version, wish),
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

export const comparedQuery = (engineId: number, version: number | null, wish: MethodsWish) =>
  queryOptions({
    queryKey: keys.ofEngine(engineId, "methods", version, wish),
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/methods", {
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

/** The methods in words, in the order in which they are taught. */
export const methodsQuery = queryOptions({
  queryKey: keys.methods,
  queryFn: () => unwrap(api.GET("/api/methods")),
  staleTime: Number.POSITIVE_INFINITY,
});

export const effectQuery = (
  engineId: number,
  version: number | null,
  valve: number,
  gap: string,
  unit: "mm" | "thou",
) =>
  queryOptions({
    queryKey: keys.ofEngine(engineId, "effect", version, valve, gap, unit),
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
    queryKey: keys.ofEngine(engineId, "set-here", version, valve, gap, unit, crankDeg),
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
    queryKey: keys.ofEngine(engineId, "engine-file", version),
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
    queryKey: keys.ofEngine(engineId, "shim-tables", version),
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/shim-tables", {
          params: { path: { engine_id: engineId }, query: ofVersion(version) },
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const patternsQuery = queryOptions({
  queryKey: keys.patterns,
  queryFn: () => unwrap(api.GET("/api/engine-patterns")),
  staleTime: Number.POSITIVE_INFINITY,
});

export const cautionsQuery = (engineId: number, version: number | null, standId: number | null) =>
  queryOptions({
    queryKey: keys.ofEngine(engineId, "cautions", version, standId),
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

/** The school's own lines on an engine's lists, for instructors. */
export const ownLinesQuery = (engineId: number) =>
  queryOptions({
    queryKey: keys.ofEngine(engineId, "own-lines"),
    queryFn: () =>
      unwrap(
        api.GET("/api/engines/{engine_id}/own-lines", {
          params: { path: { engine_id: engineId } },
        }),
      ),
  });

/** What the school states for all its classes. */
export const shopQuery = queryOptions({
  queryKey: keys.shop,
  queryFn: () => unwrap(api.GET("/api/shop")),
});

export const drillQuery = (drillId: number) =>
  queryOptions({
    queryKey: keys.drill(drillId),
    queryFn: () =>
      unwrap(api.GET("/api/drills/{drill_id}", { params: { path: { drill_id: drillId } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const ownDrillsQuery = queryOptions({
  queryKey: keys.drills,
  queryFn: () => unwrap(api.GET("/api/drills")),
});

export const classesQuery = queryOptions({
  queryKey: keys.classes,
  queryFn: () => unwrap(api.GET("/api/classes")),
});

/** Where phones open this Edrix; it does not change while a page is open. */
export const addressQuery = queryOptions({
  queryKey: keys.address,
  queryFn: () => unwrap(api.GET("/api/address")),
  staleTime: Number.POSITIVE_INFINITY,
});

const inClass = (classId: number) => ({ params: { path: { class_id: classId } } });

export const classQuery = (classId: number) =>
  queryOptions({
    queryKey: keys.class(classId),
    queryFn: () => unwrap(api.GET("/api/classes/{class_id}", inClass(classId))),
  });

export const standsQuery = (classId: number) =>
  queryOptions({
    queryKey: keys.ofClass(classId, "stands"),
    queryFn: () => unwrap(api.GET("/api/classes/{class_id}/stands", inClass(classId))),
  });

/** What a key of the passes that are being typed would be. */
export const pooledQuery = (standId: number, body: Schemas["PassesIn"]) =>
  queryOptions({
    queryKey: keys.ofStand(standId, "passes", body),
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
    queryKey: keys.ofClass(classId, "drills"),
    queryFn: () => unwrap(api.GET("/api/classes/{class_id}/drills", inClass(classId))),
  });

export const classSheetsQuery = (classId: number) =>
  queryOptions({
    queryKey: keys.ofClass(classId, "sheets"),
    queryFn: () => unwrap(api.GET("/api/classes/{class_id}/sheets", inClass(classId))),
  });

/** What a sheet may ask for besides reading, stop and verdict. */
export const asksQuery = queryOptions({
  queryKey: keys.asks,
  queryFn: () => unwrap(api.GET("/api/sheet-asks")),
  staleTime: Number.POSITIVE_INFINITY,
});

export const workQuery = queryOptions({
  queryKey: keys.work,
  queryFn: () => unwrap(api.GET("/api/work")),
});

const ofPractice = (practiceId: number) => ({ params: { path: { practice_id: practiceId } } });
const ofSheet = (sheetId: number) => ({ params: { path: { sheet_id: sheetId } } });

export const sheetQuery = (sheetId: number) =>
  queryOptions({
    queryKey: keys.sheet(sheetId),
    queryFn: () => unwrap(api.GET("/api/sheets/{sheet_id}", ofSheet(sheetId))),
    // What is being typed must not be replaced under the student's fingers.
    staleTime: Number.POSITIVE_INFINITY,
  });

export const boardQuery = (sheetId: number) =>
  queryOptions({
    queryKey: keys.ofSheet(sheetId, "board"),
    queryFn: () => unwrap(api.GET("/api/sheets/{sheet_id}/board", ofSheet(sheetId))),
    refetchInterval: 5000,
  });

export const findingsQuery = (sheetId: number) =>
  queryOptions({
    queryKey: keys.ofSheet(sheetId, "findings"),
    queryFn: () => unwrap(api.GET("/api/sheets/{sheet_id}/findings", ofSheet(sheetId))),
    refetchInterval: 5000,
  });

export const classViewQuery = (sheetId: number) =>
  queryOptions({
    queryKey: keys.ofSheet(sheetId, "class-view"),
    queryFn: () => unwrap(api.GET("/api/sheets/{sheet_id}/class-view", ofSheet(sheetId))),
    refetchInterval: 5000,
  });

export const remarkQuery = (sheetId: number) =>
  queryOptions({
    queryKey: keys.ofSheet(sheetId, "remark"),
    queryFn: () => unwrap(api.GET("/api/sheets/{sheet_id}/remark", ofSheet(sheetId))),
  });

export const rubricQuery = (sheetId: number) =>
  queryOptions({
    queryKey: keys.ofSheet(sheetId, "rubric"),
    queryFn: () => unwrap(api.GET("/api/sheets/{sheet_id}/rubric", ofSheet(sheetId))),
    // What is being weighed must not be replaced under the instructor's fingers.
    staleTime: Number.POSITIVE_INFINITY,
  });

/** The student's open gap, felt blind: asked for once, and again when it was guessed. */
export const blindQuery = (classId: number) =>
  queryOptions({
    queryKey: keys.blind(classId),
    queryFn: () =>
      unwrap(
        api.POST("/api/classes/{class_id}/blind-feel", { params: { path: { class_id: classId } } }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });

export const runWeightsQuery = (practiceId: number) =>
  queryOptions({
    queryKey: keys.ofPractice(practiceId, "rubric"),
    queryFn: () => unwrap(api.GET("/api/practice/{practice_id}/rubric", ofPractice(practiceId))),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const runWeightsLookQuery = (practiceId: number, body: Schemas["RubricIn"]) =>
  queryOptions({
    queryKey: keys.ofPractice(practiceId, "rubric", body),
    queryFn: () =>
      unwrap(
        api.POST("/api/practice/{practice_id}/rubric/preview", { ...ofPractice(practiceId), body }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });

/** What a rubric that is being typed makes of the sheets; what was last made stays in sight. */
export const rubricLookQuery = (sheetId: number, body: Schemas["RubricIn"]) =>
  queryOptions({
    queryKey: keys.ofSheet(sheetId, "rubric", body),
    queryFn: () =>
      unwrap(api.POST("/api/sheets/{sheet_id}/rubric/preview", { ...ofSheet(sheetId), body })),
    placeholderData: keepPreviousData,
    retry: false,
  });

/** sheets: those that are its trials; none is as proposed. */
/** What a study is of: the second gap of valves that are pulled shut is compared apart. */
export type StudiedGap = Exclude<GapKind, "running">;

export const studyQuery = (
  standId: number,
  sheets: readonly number[] = [],
  gap: StudiedGap = "opening",
  classId: number | null = null,
) =>
  queryOptions({
    queryKey: keys.ofStand(standId, "study", [classId, gap, ...sheets]),
    queryFn: () =>
      unwrap(
        api.GET("/api/stands/{stand_id}/study", {
          params: {
            path: { stand_id: standId },
            query: { sheets: [...sheets], gap, class_id: classId },
          },
        }),
      ),
  });

export const trialsQuery = (
  standId: number,
  gap: StudiedGap = "opening",
  classId: number | null = null,
) =>
  queryOptions({
    queryKey: keys.ofStand(standId, "trials", [classId, gap]),
    queryFn: () =>
      unwrap(
        api.GET("/api/stands/{stand_id}/trials", {
          params: { path: { stand_id: standId }, query: { gap, class_id: classId } },
        }),
      ),
  });

export const handInQuery = (handInId: number) =>
  queryOptions({
    queryKey: keys.handIn(handInId),
    queryFn: () =>
      unwrap(api.GET("/api/hand-ins/{hand_in_id}", { params: { path: { hand_in_id: handInId } } })),
  });

export const nextKeyQuery = (handInId: number) =>
  queryOptions({
    queryKey: keys.nextKey(handInId),
    queryFn: () =>
      unwrap(
        api.GET("/api/hand-ins/{hand_in_id}/next-key", {
          params: { path: { hand_in_id: handInId } },
        }),
      ),
  });

export const progressQuery = (classId: number, studentId: number) =>
  queryOptions({
    queryKey: keys.ofClass(classId, "progress", studentId),
    queryFn: () =>
      unwrap(
        api.GET("/api/classes/{class_id}/students/{student_id}/progress", {
          params: { path: { class_id: classId, student_id: studentId } },
        }),
      ),
  });

export const ownProgressQuery = (classId: number) =>
  queryOptions({
    queryKey: keys.ofClass(classId, "progress"),
    queryFn: () =>
      unwrap(
        api.GET("/api/classes/{class_id}/progress", { params: { path: { class_id: classId } } }),
      ),
  });

export const practiceQuery = (classId: number) =>
  queryOptions({
    queryKey: keys.ofClass(classId, "practice"),
    queryFn: () => unwrap(api.GET("/api/classes/{class_id}/practice", inClass(classId))),
  });

export const practiceRunsQuery = (practiceId: number) =>
  queryOptions({
    queryKey: keys.ofPractice(practiceId, "runs"),
    queryFn: () => unwrap(api.GET("/api/practice/{practice_id}/runs", ofPractice(practiceId))),
    refetchInterval: 5000,
  });

const ofRun = (runId: number) => ({ params: { path: { run_id: runId } } });

export const runQuery = (runId: number) =>
  queryOptions({
    queryKey: keys.run(runId),
    queryFn: () => unwrap(api.GET("/api/runs/{run_id}", ofRun(runId))),
    // What is being done must not be replaced under the student's hands.
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });

export const debriefQuery = (runId: number) =>
  queryOptions({
    queryKey: keys.ofRun(runId, "debrief"),
    queryFn: () => unwrap(api.GET("/api/runs/{run_id}/debrief", ofRun(runId))),
  });

/** Which gap of a valve: the one that all have, or one of those that only some have. */
export type GapKind = "opening" | "closing" | "running";

export const walkQuery = (runId: number, step: number) =>
  queryOptions({
    queryKey: keys.ofRun(runId, "walk", step),
    queryFn: () => unwrap(api.GET("/api/runs/{run_id}/walk", ofRun(runId))),
    placeholderData: keepPreviousData,
  });

export const adviceQuery = (runId: number, valve: number, gap: GapKind, step: number) =>
  queryOptions({
    queryKey: keys.ofRun(runId, "advice", valve, gap, step),
    queryFn: () =>
      unwrap(
        api.GET("/api/runs/{run_id}/advice", {
          params: { path: { run_id: runId }, query: { valve, gap } },
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });
