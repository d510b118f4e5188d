/** A screen that could not be shown: the rail stays, what happened is said, and how to go on. */
import { Suspense, type ReactNode } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { Link, useLocation } from "react-router";
import { Button, Empty, Waiting } from "../ui/parts";

function Fallen() {
  return (
    <div role="alert">
      <Empty title="This screen could not be shown">
        <p>
          What was saved is safe, and drafts stay on this device. Load the page again; the program
          may have been updated meanwhile. If it stays, tell the owner which screen it was.
        </p>
        <div className="mt-4 flex flex-wrap justify-center gap-3">
          <Button kind="next" onClick={() => window.location.reload()}>
            Load the page again
          </Button>
          <Link
            className="inline-flex min-h-10 items-center px-4 text-action underline"
            to="/orders"
          >
            To the orders
          </Link>
        </div>
      </Empty>
    </div>
  );
}

/** Holds one screen: while it is fetched the layout stays, and another path tries afresh. */
export function ScreenFrame({ children }: { children: ReactNode }) {
  const { pathname } = useLocation();
  return (
    <ErrorBoundary FallbackComponent={Fallen} resetKeys={[pathname]}>
      <Suspense fallback={<Waiting what="the screen" />}>{children}</Suspense>
    </ErrorBoundary>
  );
}
