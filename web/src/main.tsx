import "@fontsource-variable/newsreader/index.css";
import "@fontsource-variable/public-sans/index.css";
import "bootstrap/dist/css/bootstrap.min.css";
import "./styles/base.css";
import "./styles/rail.css";
import "./styles/tray.css";
import "./styles/tone.css";
import "./styles/frame.css";
import "./styles/controls.css";
import "./styles/shelf.css";
import "./styles/board.css";
import "./styles/look.css";
import "./styles/planned.css";
import "./styles/compare.css";
import "./styles/ladder.css";
import "./styles/match.css";
import "./styles/editor.css";
import "./styles/under.css";
import "./styles/layer.css";
import "./styles/draw.css";
import "./styles/keep.css";
import "./styles/library.css";
import "./styles/kit.css";
import "./styles/sheets.css";
import "./styles/serves.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./App";
import { rackQuery, studiesQuery } from "./study/queries";

const queries = new QueryClient({
  defaultOptions: { queries: { staleTime: 2000, retry: 1, refetchOnWindowFocus: true } },
});

// The shelf's own data are on their way while its page is still being built.
if (window.location.pathname === "/") {
  void queries.prefetchQuery(studiesQuery);
  void queries.prefetchQuery(rackQuery);
}

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <App />
    </QueryClientProvider>
  </StrictMode>,
);
