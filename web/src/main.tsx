import { QueryCache, QueryClientProvider } from "@tanstack/react-query";
import { RouterProvider } from "@tanstack/react-router";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { ApiError } from "./api/client";
import { LedgerQueryClient } from "./api/ledgerQueryClient";
import { makeRouter } from "./routes";
import "./styles.css";

const router = makeRouter();

const queries = new LedgerQueryClient({
  queryCache: new QueryCache({
    onError: (error) => {
      // The session has ended: sign in again and return to the same page.
      if (error instanceof ApiError && error.status === 401 && router.state.location.pathname !== "/sign-in") {
        void router.navigate({ to: "/sign-in", search: { to: router.state.location.href } });
      }
    },
  }),
  defaultOptions: {
    queries: {
      retry: (count, error) => count < 2 && (!(error instanceof ApiError) || error.status >= 500),
      staleTime: 2000,
    },
  },
});

const place = document.getElementById("root");
if (place) {
  createRoot(place).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </StrictMode>,
  );
}
