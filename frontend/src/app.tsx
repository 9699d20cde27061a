import { lazy, Suspense, useEffect } from "react";
import { Route, Routes } from "react-router";

import { useLive } from "./api/live";
import { Catch } from "./ui/catch";
import { NowhereAtAll } from "./ui/nowhere";
import { StartPage } from "./start/start-page";

const workspace = () =>
  import("./workspace/workspace-page").then((m) => ({ default: m.WorkspacePage }));
const WorkspacePage = lazy(workspace);
const PartPage = lazy(() => import("./reference/part-page"));

export function App() {
  useLive();
  // Fetched once the first page stands, so that a model opens without waiting for it.
  useEffect(() => {
    requestIdleCallback(() => void workspace().catch(() => undefined), { timeout: 3000 });
  }, []);
  return (
    <Catch>
      {/* Around all pages, so that the one before stays until the next can be shown at once. */}
      <Suspense fallback={<p className="muted p-6">Opening…</p>}>
        <Routes>
          <Route path="/" element={<StartPage />} />
          <Route path="/projects/:project/models/:model" element={<WorkspacePage />} />
          <Route path="/projects/:project/models/:model/parts/:part" element={<PartPage />} />
          <Route path="*" element={<NowhereAtAll message="There is nothing at this address." />} />
        </Routes>
      </Suspense>
    </Catch>
  );
}
