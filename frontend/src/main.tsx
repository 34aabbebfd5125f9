import "@fontsource-variable/bricolage-grotesque";
import "@fontsource-variable/instrument-sans";
import "@fontsource-variable/spline-sans-mono";
import "./index.css";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { lazy, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";

import { Gate } from "./app/Gate";
import { Home } from "./app/Home";
import { Workroom } from "./app/Workroom";
import { WorkshopPage } from "./app/WorkshopPage";

// it draws in 3D: read in when it is looked at
const BesidePage = lazy(() => import("./app/BesidePage"));

const client = new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false, retry: 1 } } });

createRoot(document.getElementById("root")!).render(
  <QueryClientProvider client={client}>
    <Tooltip.Provider delayDuration={350}>
      <BrowserRouter>
        <Gate>
          <Routes>
            <Route path="/" element={<Home />} />
            <Route path="/workshop" element={<WorkshopPage />} />
            <Route
              path="/designs/:id/beside"
              element={
                <Suspense fallback={null}>
                  <BesidePage />
                </Suspense>
              }
            />
            <Route path="/designs/:id/:stop?" element={<Workroom />} />
          </Routes>
        </Gate>
      </BrowserRouter>
    </Tooltip.Provider>
  </QueryClientProvider>,
);
