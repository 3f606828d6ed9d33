import "@fontsource-variable/newsreader/index.css";
import "@fontsource-variable/public-sans/index.css";
import "bootstrap/dist/css/bootstrap.min.css";
import "./styles/base.css";
import "./styles/frame.css";
import "./styles/stages.css";
import "./styles/look.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./App";

const queries = new QueryClient({
  defaultOptions: { queries: { staleTime: 2000, retry: 1, refetchOnWindowFocus: true } },
});

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <App />
    </QueryClientProvider>
  </StrictMode>,
);
