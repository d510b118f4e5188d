/** The shell: sign-in, the rail, and the screens under it. */
import { useQuery } from "@tanstack/react-query";
import { Navigate, Outlet, Route, Routes } from "react-router";
import { ProblemError } from "../api/client";
import { session } from "../api/frame";
import { SayProvider } from "../ui/useToast";
import { ProblemNote, Waiting } from "../ui/parts";
import { ScreenFrame } from "./ScreenFrame";
import { Helpers } from "./Helpers";
import { KeyProvider } from "./keys";
import { Rail } from "./Rail";
import { ArrivedScreen, BeginScreen, OneTimeScreen, PLACES } from "./screens";
import { SessionProvider } from "./session";

/** The server says with the page whether anybody is signed in: a stranger is not asked for a session that is not there. */
const SIGNED_IN =
  document.querySelector<HTMLMetaElement>('meta[name="signed-in"]')?.content !== "no";

function Framed() {
  return (
    <>
      <Rail />
      <main>
        <ScreenFrame>
          <Outlet />
        </ScreenFrame>
      </main>
    </>
  );
}

function SignIn() {
  return (
    <ScreenFrame>
      <BeginScreen />
    </ScreenFrame>
  );
}

const isStranger = (error: Error) =>
  error instanceof ProblemError && [401, 403].includes(error.problem.status);

const ARRIVED = window.location.pathname.startsWith("/arrived/");

export function App() {
  return ARRIVED ? (
    <ScreenFrame>
      <ArrivedScreen />
    </ScreenFrame>
  ) : (
    <Workshop />
  );
}

function Workshop() {
  const who = useQuery({ ...session(), enabled: SIGNED_IN });
  if (who.isPending) return SIGNED_IN ? <Waiting what="your workshop" /> : <SignIn />;
  if (who.isError) {
    if (isStranger(who.error)) return <SignIn />;
    return (
      <div className="p-6">
        <ProblemNote error={who.error} />
      </div>
    );
  }
  if (who.data.must_change)
    return (
      <ScreenFrame>
        <OneTimeScreen />
      </ScreenFrame>
    );
  return (
    <SessionProvider session={who.data}>
      <SayProvider>
        <KeyProvider>
          <Helpers>
            <Routes>
              {PLACES.filter((place) => place.alone).map(({ path, Screen }) => (
                <Route
                  key={path}
                  path={path}
                  element={
                    <ScreenFrame>
                      <Screen />
                    </ScreenFrame>
                  }
                />
              ))}
              <Route element={<Framed />}>
                {PLACES.filter((place) => !place.alone).map(({ path, Screen }) => (
                  <Route key={path} path={path} element={<Screen />} />
                ))}
                <Route path="*" element={<Navigate to="/day" replace />} />
              </Route>
            </Routes>
          </Helpers>
        </KeyProvider>
      </SayProvider>
    </SessionProvider>
  );
}
