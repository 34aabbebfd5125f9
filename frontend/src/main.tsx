import "@fontsource-variable/bricolage-grotesque";
import "@fontsource-variable/instrument-sans";
import "@fontsource-variable/spline-sans-mono";
import "./index.css";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";

import { Home } from "./app/Home";
import { Workroom } from "./app/Workroom";
import { WorkshopPage } from "./app/WorkshopPage";

const client = new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false, retry: 1 } } });

createRoot(document.getElementById("root")!).render(
  <QueryClientProvider client={client}>
    <Tooltip.Provider delayDuration={350}>
      <BrowserRouter>
        <Routes>
          <Route path="/" element={<Home />} />
          <Route path="/workshop" element={<WorkshopPage />} />
          <Route path="/designs/:id/:stop?" element={<Workroom />} />
        </Routes>
      </BrowserRouter>
    </Tooltip.Provider>
  </QueryClientProvider>,
);
