import { i18n } from "@lingui/core";
import { I18nProvider } from "@lingui/react";
import { QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { Problem, whenChanged } from "./api/client";
import { App } from "./app";
import { stayShown } from "./queries/away";
import { startTheme } from "./shared/theme";
import "./theme.css";

startTheme();

const queries = new QueryClient({
  queryCache: new QueryCache({ onError: stayShown }),
  defaultOptions: {
    queries: {
      retry: (tries, error) => !(error instanceof Problem && error.status > 0) && tries < 2,
      staleTime: 5_000,
    },
  },
});

// A screen that is opened after an entry anywhere asks anew; what is asked once for good (a draft's start) stays.
whenChanged(() => {
  void queries.invalidateQueries({
    refetchType: "none",
    predicate: ({ options }) => !("staleTime" in options) || options.staleTime !== Number.POSITIVE_INFINITY,
  });
});

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <I18nProvider i18n={i18n}>
        <QueryClientProvider client={queries}>
          <BrowserRouter>
            <App />
          </BrowserRouter>
        </QueryClientProvider>
      </I18nProvider>
    </StrictMode>,
  );
