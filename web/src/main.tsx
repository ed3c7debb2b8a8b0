import "@fontsource-variable/archivo/wdth.css";
import "./app/style.css";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";

import { App } from "./app/App";
import { Guard } from "./app/Guard";
import { keepShell } from "./ui/shell";
import { followLook } from "./ui/look";

followLook();
keepShell();
const client = new QueryClient({
  defaultOptions: {
    // Without a signal the worker answers with what was kept: a question is asked all the same.
    queries: { retry: 1, staleTime: 5_000, networkMode: "always" },
    mutations: { networkMode: "always" },
  },
});
const root = document.getElementById("root");
if (!root) throw new Error("The page has no root element");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <Guard>
          <App />
        </Guard>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
