/** The places of the application, each its own bundle, behind the sign-in page. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useEffect } from "react";
import { Navigate, Route, Routes } from "react-router";
import { sessionQuery } from "./api/queries";
import { Boundary } from "./app/Boundary";
import { Failure, Waiting } from "./app/feedback";
import { Shell } from "./app/Shell";
import { SignIn } from "./app/SignIn";
import { SignInAgain } from "./app/SignInAgain";
import { atSchool } from "./app/school";
import type { Person } from "./app/session";
import { AskedNow, OwnToday, SheetPage, WaitingHandIns, WorkPage } from "./parts";

const ShelfDesk = lazy(() => import("./engines/ShelfDesk"));
const ShelfPage = lazy(() => import("./engines/ShelfPage"));
const BenchPage = lazy(() => import("./bench/BenchPage"));
const RouteCardPage = lazy(() => import("./routecard/RouteCardPage"));
const MethodsPage = lazy(() => import("./routecard/MethodsPage"));
const DrillPage = lazy(() => import("./drill/DrillPage"));
const EditorPage = lazy(() => import("./editor/EditorPage"));
const ClassesPage = lazy(() => import("./classes/ClassesPage"));
const ClassPage = lazy(() => import("./classes/ClassPage"));
const HallPage = lazy(() => import("./workshop/HallPage"));
const StandPage = lazy(() => import("./workshop/StandPage"));
const StorePage = lazy(() => import("./store/StorePage"));
const RotaPage = lazy(() => import("./rota/RotaPage"));
const BoardPage = lazy(() => import("./marking/BoardPage"));
const IntakePage = lazy(() => import("./intake/IntakePage"));
const ClassViewPage = lazy(() => import("./marking/ClassViewPage"));
const BlindPage = lazy(() => import("./feel/BlindPage"));
const RunFilePage = lazy(() => import("./practice/RunFilePage"));
const RunWeightsPage = lazy(() => import("./weights/RunWeightsPage"));
const RubricPage = lazy(() => import("./weights/RubricPage"));
const HandInPage = lazy(() => import("./marking/HandInPage"));
const StudyPage = lazy(() => import("./study/StudyPage"));
const ProgressPage = lazy(() => import("./progress/ProgressPage"));
const PracticePage = lazy(() => import("./practice/PracticePage"));
const DebriefPage = lazy(() => import("./practice/DebriefPage"));
const ShimsPage = lazy(() => import("./shims/ShimsPage"));
const HelpPage = lazy(() => import("./help/HelpPage"));
const SchoolPage = lazy(() => import("./school/SchoolPage"));
const MePage = lazy(() => import("./me/MePage"));
const WallPage = lazy(() => import("./asking/WallPage"));
const AskHerePage = lazy(() => import("./asking/AskHerePage"));
const ClassToday = lazy(() => import("./today/ClassToday"));
const LessonsPage = lazy(() => import("./lessons/LessonsPage"));
const LessonEditor = lazy(() => import("./lessons/LessonEditor"));
const HoldPage = lazy(() => import("./lessons/HoldPage"));
const NotesPage = lazy(() => import("./lessons/NotesPage"));

export function App() {
  const session = useQuery(sessionQuery);
  if (session.isPending) return isNobody() ? <SignIn /> : null;
  // What this device kept of the session serves until the server is there again.
  if (session.data === undefined)
    return <Failure error={session.error} retry={() => session.refetch()} />;
  const { person, school } = session.data;
  atSchool(school);
  if (person === null) return <SignIn />;
  return (
    <Shell key={person.id} person={person}>
      <SignInAgain person={person} />
      {!person.may_teach && <KeepOwn />}
      {!person.may_teach && (
        <Suspense fallback={null}>
          <AskedNow />
          <WaitingHandIns />
        </Suspense>
      )}
      <Boundary>
        <Suspense fallback={<Waiting />}>
          <Places person={person} />
        </Suspense>
      </Boundary>
    </Shell>
  );
}

/** From their sign-in on, a student's pages are kept on this device. */
function KeepOwn() {
  const queries = useQueryClient();
  useEffect(() => {
    import("./app/keeping").then((keeping) => keeping.keepFromNow(queries)).catch(() => undefined);
  }, [queries]);
  return null;
}

/** Whether the server said with the page that nobody is signed in; a page that was kept says nothing. */
function isNobody(): boolean {
  const known = document.querySelector<HTMLMetaElement>("meta[name=known]")?.content;
  return known === "no" && !navigator.serviceWorker?.controller;
}

function Places({ person }: { person: Person }) {
  return (
    <Routes>
      <Route
        path="/"
        element={<Navigate to={person.may_teach ? "/engines" : "/today"} replace />}
      />
      <Route path="/engines" element={person.may_teach ? <ShelfDesk /> : <ShelfPage />} />
      {person.may_teach && <Route path="/engines/new" element={<EditorPage />} />}
      {person.may_teach && <Route path="/engines/:engineId/edit" element={<EditorPage />} />}
      <Route path="/bench/:engineId" element={<BenchPage />} />
      <Route path="/route/:engineId" element={<RouteCardPage />} />
      <Route path="/methods/:engineId" element={<MethodsPage />} />
      {/* As it was called before: bookmarks still lead there. */}
      <Route path="/schools/:engineId" element={<MethodsPage />} />
      <Route path="/shims/:engineId" element={<ShimsPage />} />
      <Route path="/drill/:engineId" element={<DrillPage />} />
      <Route path="/classes" element={<ClassesPage />} />
      <Route path="/today" element={<OwnToday />} />
      <Route path="/classes/:classId/today" element={<ClassToday />} />
      {person.may_teach && <Route path="/ask/:classId" element={<WallPage />} />}
      {person.may_teach && <Route path="/ask-here/:engineId" element={<AskHerePage />} />}
      <Route path="/classes/:classId/:tab?" element={<ClassPage />} />
      {person.may_teach && <Route path="/stands" element={<HallPage />} />}
      {person.may_teach && <Route path="/store" element={<StorePage />} />}
      {/* The label on a stand leads students to their sheets. */}
      <Route
        path="/stand/:standId"
        element={person.may_teach ? <StandPage /> : <Navigate to="/work" replace />}
      />
      {person.may_teach && <Route path="/lessons" element={<LessonsPage />} />}
      {person.may_teach && <Route path="/lessons/:lessonId" element={<LessonEditor />} />}
      {person.may_teach && <Route path="/lesson/:lessonId" element={<HoldPage />} />}
      {person.may_teach && <Route path="/lesson/:lessonId/notes" element={<NotesPage />} />}
      {person.may_teach && <Route path="/rota/:rotaId/:tab?" element={<RotaPage />} />}
      <Route path="/board/:sheetId" element={<BoardPage />} />
      <Route path="/board/:sheetId/take-in" element={<IntakePage />} />
      <Route path="/board/:sheetId/class" element={<ClassViewPage />} />
      <Route path="/board/:sheetId/rubric" element={<RubricPage />} />
      {person.may_teach && <Route path="/run-file" element={<RunFilePage />} />}
      <Route path="/practice/:practiceId/weights" element={<RunWeightsPage />} />
      <Route path="/hand-in/:handInId" element={<HandInPage />} />
      <Route path="/study/:standId" element={<StudyPage />} />
      <Route path="/progress/:classId/:studentId" element={<ProgressPage />} />
      {person.is_head && <Route path="/school" element={<SchoolPage />} />}
      <Route path="/feel/:classId" element={<BlindPage />} />
      <Route path="/me" element={<MePage />} />
      <Route path="/help/:whose?/:page?" element={<HelpPage />} />
      <Route path="/work" element={<WorkPage />} />
      <Route path="/sheet/:sheetId" element={<SheetPage />} />
      <Route path="/practice/:runId" element={<PracticePage />} />
      <Route path="/debrief/:runId" element={<DebriefPage />} />
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  );
}
