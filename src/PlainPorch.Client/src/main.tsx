import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import "./app.css";
import { ApiError } from "./api/problems";
import { routes } from "./routes";

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      // What the server said stays said; only a lost connection may come back by itself.
      retry: (failures, error) => !(error instanceof ApiError) && failures < 1,
      retryDelay: 500,
      networkMode: "always",
      // What was fetched anew and is the same stays the same; what is not is taken as it came, names from a database and all.
      structuralSharing: (before, now) => (JSON.stringify(before) === JSON.stringify(now) ? before : now),
    },
    mutations: { networkMode: "always" },
  },
});

const root = document.getElementById("root");
if (!root) throw new Error("The page has no element #root to show the application in.");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <RouterProvider router={createBrowserRouter(routes)} />
    </QueryClientProvider>
  </StrictMode>,
);
