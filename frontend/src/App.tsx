import { lazy, Suspense } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { Link, Route, Routes, useLocation } from "react-router";
import { useSession } from "./api/queries";
import { BandScreen } from "./band/BandScreen";
import { LoginScreen } from "./login/LoginScreen";
import { Shell } from "./shared/Shell";
import { Trouble, Waiting } from "./shared/states";
import { SchoolDaysScreen } from "./plan/SchoolDaysScreen";
import { StudentScreen } from "./student/StudentScreen";
import { t } from "./shared/words";

const HandScreen = lazy(() => import("./hand/HandScreen"));
const ThenNowScreen = lazy(() => import("./thennow/ThenNowScreen"));
const ClipsScreen = lazy(() => import("./clips/ClipsScreen"));
const SectionalsScreen = lazy(() => import("./sectionals/SectionalsScreen"));
const CloseUpScreen = lazy(() => import("./closeups/CloseUpScreen"));
const ReedsScreen = lazy(() => import("./reeds/ReedsScreen"));
const RecordsScreen = lazy(() => import("./records/RecordsScreen"));
const LessonsScreen = lazy(() => import("./lessons/LessonsScreen"));
const LadderScreen = lazy(() => import("./lessons/LadderScreen"));
const DrillsScreen = lazy(() => import("./lessons/DrillsScreen"));
const RoutineScreen = lazy(() => import("./lessons/RoutineScreen"));
const HelpScreen = lazy(() => import("./help/HelpScreen"));
const SettingsScreen = lazy(() => import("./settings/SettingsScreen"));
const JoinScreen = lazy(() => import("./login/JoinScreen"));
const LinkScreen = lazy(() => import("./practice/LinkScreen"));
const EyeScreen = lazy(() => import("./eye/EyeScreen"));
const RoundScreen = lazy(() => import("./eye/RoundScreen"));
const GalleryScreen = lazy(() => import("./eye/GalleryScreen"));
const PairsScreen = lazy(() => import("./eye/PairsScreen"));
const OpenEyeScreen = lazy(() => import("./eye/OpenScreen"));
const BoothScreen = lazy(() => import("./booth/BoothScreen"));
const StandardsScreen = lazy(() => import("./standards/StandardsScreen"));
const BenchScreen = lazy(() => import("./bench/BenchScreen"));

export function App() {
  const { pathname } = useLocation();
  // Whoever has a capture link needs no login, and sees nothing else.
  if (pathname.startsWith("/film/"))
    return (
      <Suspense fallback={<Waiting what={t("the page")} />}>
        <LinkScreen token={pathname.split("/")[2] ?? ""} />
      </Suspense>
    );
  if (pathname.startsWith("/eye/open/"))
    return (
      <Suspense fallback={<Waiting what={t("the round")} />}>
        <OpenEyeScreen token={pathname.split("/")[3] ?? ""} />
      </Suspense>
    );
  if (pathname.startsWith("/join/"))
    return (
      <Suspense fallback={<Waiting what={t("the invitation")} />}>
        <JoinScreen token={pathname.split("/")[2] ?? ""} />
      </Suspense>
    );
  return <Known pathname={pathname} />;
}

function Known({ pathname }: { pathname: string }) {
  const session = useSession();
  if (session.isPending) return <Waiting what={t("Sulvet")} />;
  if (session.isError)
    return <Trouble error={session.error} retry={() => void session.refetch()} />;
  if (session.data.booth)
    return (
      <Suspense fallback={<Waiting what={t("the booth")} />}>
        <BoothScreen />
      </Suspense>
    );
  if (session.data.username === null)
    return <LoginScreen first={session.data.new} codeNeeded={session.data.code_needed} />;
  return (
    <Shell session={session.data} username={session.data.username}>
      <ErrorBoundary FallbackComponent={Broken} resetKeys={[pathname]}>
        <Suspense fallback={<Waiting what={t("the page")} />}>
          <Routes>
            <Route path="/" element={<BandScreen />} />
            <Route path="/students/:id" element={<StudentScreen />} />
            <Route path="/students/:id/then-and-now" element={<ThenNowScreen />} />
            <Route path="/clips" element={<ClipsScreen />} />
            <Route path="/sectionals" element={<SectionalsScreen />} />
            <Route path="/reeds" element={<ReedsScreen />} />
            <Route path="/close-ups/:id" element={<CloseUpScreen />} />
            <Route path="/records" element={<RecordsScreen />} />
            <Route path="/takes/:id" element={<BenchScreen />} />
            <Route path="/hand" element={<HandScreen />} />
            <Route path="/standards" element={<StandardsScreen />} />
            <Route path="/standards/:instrument" element={<StandardsScreen />} />
            <Route path="/lessons" element={<LessonsScreen />} />
            <Route path="/lessons/:id" element={<LadderScreen />} />
            <Route path="/drills" element={<DrillsScreen />} />
            <Route path="/routines/:id" element={<RoutineScreen />} />
            <Route path="/eye" element={<EyeScreen />} />
            <Route path="/eye/rounds/:id" element={<RoundScreen />} />
            <Route path="/eye/pairs/:instrument" element={<PairsScreen />} />
            <Route path="/eye/gallery/:instrument" element={<GalleryScreen />} />
            <Route path="/school-days" element={<SchoolDaysScreen />} />
            <Route path="/help" element={<HelpScreen />} />
            <Route path="/settings" element={<SettingsScreen />} />
            <Route path="*" element={<NotFound />} />
          </Routes>
        </Suspense>
      </ErrorBoundary>
    </Shell>
  );
}

/** A page that fell over: the others still stand, and it can be tried again. */
function Broken({ resetErrorBoundary }: FallbackProps) {
  const error = new Error(
    t("This page could not be shown. Your saved work is safe. Try again, or reload the page."),
  );
  return <Trouble error={error} retry={resetErrorBoundary} />;
}

function NotFound() {
  return (
    <main className="page">
      <title>{`${t("Page not found.")} – Sulvet`}</title>
      <h1>{t("Page not found.")}</h1>
      <Link to="/">{t("Open the band")}</Link>
    </main>
  );
}
