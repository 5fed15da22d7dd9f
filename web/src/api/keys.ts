/**
 * The keys under which answers are kept, all in one place. A key that begins with another is
 * cleared along with it: `keys.sheet(3)` clears the board, findings and rubric of sheet 3.
 */

export const keys = {
  session: ["session"],
  address: ["address"],
  engines: ["engines"],
  methods: ["methods"],
  patterns: ["patterns"],
  /** What is known of any engine. */
  eachEngine: ["engine"],
  engine: (engineId: number) => [...keys.eachEngine, engineId],
  ofEngine: (engineId: number, what: string, ...which: unknown[]) => [
    ...keys.engine(engineId),
    what,
    ...which,
  ],
  drills: ["drills"],
  drill: (drillId: number) => [...keys.drills, drillId],
  lessons: ["lessons"],
  lesson: (lessonId: number, classId: number | null) => [...keys.lessons, lessonId, classId],
  instructors: ["instructors"],
  shop: ["shop"],
  /** Apart from their class: they are of this page only, and nothing fetches them again. */
  passcodes: (classId: number) => ["passcodes", classId],
  classes: ["classes"],
  class: (classId: number) => [...keys.classes, classId],
  ofClass: (classId: number, what: string, ...which: unknown[]) => [
    ...keys.class(classId),
    what,
    ...which,
  ],
  stands: ["stands"],
  store: ["store"],
  stand: (standId: number) => [...keys.stands, standId],
  ofStand: (standId: number, what: string, ...which: unknown[]) => [
    ...keys.stand(standId),
    what,
    ...which,
  ],
  rotas: ["rotas"],
  rota: (rotaId: number) => [...keys.rotas, rotaId],
  ofRota: (rotaId: number, what: string) => [...keys.rota(rotaId), what],
  ownRota: ["own-rota"],
  /** What one is to do now, and what one is asked. */
  myNow: ["my-now"],
  myAsked: ["my-asked"],
  questionKinds: ["question-kinds"],
  work: ["work"],
  asks: ["asks"],
  sheets: ["sheets"],
  sheet: (sheetId: number) => [...keys.sheets, sheetId],
  ofSheet: (sheetId: number, what: string, ...which: unknown[]) => [
    ...keys.sheet(sheetId),
    what,
    ...which,
  ],
  handIns: ["hand-ins"],
  handIn: (handInId: number) => [...keys.handIns, handInId],
  nextKey: (handInId: number) => [...keys.handIn(handInId), "next-key"],
  practice: (practiceId: number) => ["practice", practiceId],
  ofPractice: (practiceId: number, what: string, ...which: unknown[]) => [
    ...keys.practice(practiceId),
    what,
    ...which,
  ],
  blind: (classId: number) => ["blind", classId],
  runs: ["runs"],
  run: (runId: number) => [...keys.runs, runId],
  ofRun: (runId: number, what: string, ...which: unknown[]) => [...keys.run(runId), what, ...which],
} as const;
