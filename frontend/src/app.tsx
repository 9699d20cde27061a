import { Suspense, useEffect } from "react";
import { Route, Routes } from "react-router";

import { useLive } from "./api/live";
import { DISK, diskPage, MODEL, PART, partPage, workspacePage } from "./pages";
import { Catch } from "./ui/catch";
import { fetchWhenIdle } from "./ui/page";
import { NowhereAtAll } from "./ui/nowhere";
import { StartPage } from "./start/start-page";
import { note } from "./state/notice";

export function App() {
  useLive(note);
  // Fetched once the first page stands, so that a model opens without waiting for it.
  useEffect(() => fetchWhenIdle([workspacePage]), []);
  return (
    <Catch>
      {/* Around all pages, so that the one before stays until the next can be shown at once. */}
      <Suspense fallback={<p className="muted p-6">Opening…</p>}>
        <Routes>
          <Route path="/" element={<StartPage />} />
          <Route path={MODEL} element={<workspacePage.Page />} />
          <Route path={PART} element={<partPage.Page />} />
          <Route path={DISK} element={<diskPage.Page />} />
          <Route path="*" element={<NowhereAtAll message="There is nothing at this address." />} />
        </Routes>
      </Suspense>
    </Catch>
  );
}
