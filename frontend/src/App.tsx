import { lazy, Suspense } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { Link, Route, Routes, useLocation } from "react-router";
import { useSession } from "./api/queries";
import { BandScreen } from "./band/BandScreen";
import { LoginScreen } from "./login/LoginScreen";
import { Shell } from "./shared/Shell";
import { Trouble, Waiting } from "./shared/states";
import { SchoolDaysScreen } from "./plan/SchoolDaysScreen";
import { screens } from "./screens";
import { StudentScreen } from "./student/StudentScreen";
import { t } from "./shared/words";

const JoinScreen = lazy(() => import("./login/JoinScreen"));
const LinkScreen = lazy(() => import("./practice/LinkScreen"));
const OpenEyeScreen = lazy(() => import("./eye/OpenScreen"));
const BoothScreen = lazy(() => import("./booth/BoothScreen"));

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
            <Route path="/school-days" element={<SchoolDaysScreen />} />
            {screens.map(({ path, Component }) => (
              <Route key={path} path={path} element={<Component />} />
            ))}
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
