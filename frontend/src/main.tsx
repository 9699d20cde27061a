import "./theme.css";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";

import { App } from "./app";
import { pageAt } from "./pages";
import { applyTheme } from "./ui/theme";

applyTheme();
const queries = new QueryClient({
  defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false, staleTime: 5_000 } },
});

function start() {
  createRoot(document.getElementById("root")!).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );
}

// What the address asks for is fetched first: it then shows at once. One that cannot be fetched says so itself.
const asked = pageAt(location.pathname)?.fetch() ?? Promise.resolve();
void asked.catch(() => undefined).then(start);
