import { lazy, Suspense } from "react";
import { Route, Routes } from "react-router";

import { useLive } from "./api/live";
import { Catch } from "./ui/catch";
import { NowhereAtAll } from "./ui/nowhere";
import { StartPage } from "./start/start-page";

const WorkspacePage = lazy(() =>
  import("./workspace/workspace-page").then((m) => ({ default: m.WorkspacePage })),
);
const PartPage = lazy(() => import("./reference/part-page"));

export function App() {
  useLive();
  return (
    <Catch>
      <Routes>
        <Route path="/" element={<StartPage />} />
        <Route
          path="/projects/:project/models/:model"
          element={
            <Suspense fallback={<p className="muted p-6">Opening…</p>}>
              <WorkspacePage />
            </Suspense>
          }
        />
        <Route
          path="/projects/:project/models/:model/parts/:part"
          element={
            <Suspense fallback={<p className="muted p-6">Opening…</p>}>
              <PartPage />
            </Suspense>
          }
        />
        <Route path="*" element={<NowhereAtAll message="There is nothing at this address." />} />
      </Routes>
    </Catch>
  );
}
