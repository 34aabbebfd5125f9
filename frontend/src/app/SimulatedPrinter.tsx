import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api } from "../api/client";
import type { Printer, PrinterState } from "../api/schema";
import { Button } from "../ui/Button";
import { brief, duration } from "../ui/number";

/** The simulated printer behind this one: print something, watch it, note how long it really took. */
export function SimulatedPrinter({
  printer: p,
  set,
}: {
  printer: Printer;
  set: (c: Partial<Printer>) => void;
}) {
  const client = useQueryClient();
  const key = ["device", p.key];
  const [planned, setPlanned] = useState(0);
  const device = useQuery({
    queryKey: key,
    queryFn: async () =>
      (await api.GET("/api/devices/printers/{key}", { params: { path: { key: p.key } } })).data ?? null!,
    refetchInterval: (q) => (["heating", "printing"].includes(q.state.data?.state ?? "") ? 500 : false),
  });
  const d: PrinterState | undefined = device.data;
  const print = () => {
    const hoursPlanned = 5 + (p.paced.length % 4);
    setPlanned(hoursPlanned * 3600);
    void api
      .POST("/api/devices/printers/{key}/print", {
        params: { path: { key: p.key } },
        body: {
          what: `test plate of ${hoursPlanned} h`,
          planned_s: hoursPlanned * 3600,
          mass_g: hoursPlanned * 17,
          spool_g: 0,
          fault: "by chance",
        },
      })
      .then(({ data }) => {
        client.setQueryData(key, data);
      });
  };
  const running = d && ["heating", "printing"].includes(d.state);
  return (
    <div className="mt-3 border-t border-rule pt-2">
      <p className="mb-1 text-[12px] text-soft">Simulated device, a thousand times faster</p>
      <div className="flex flex-wrap items-center gap-2">
        {running ? (
          <>
            <progress aria-label={`${p.name} prints`} value={d.share} max={1} className="w-28" />
            <span className="num text-[12px]">
              {duration(d.real_s)}, {brief(d.used_g, 0)} g
            </span>
            <Button
              onClick={() =>
                void api
                  .POST("/api/devices/printers/{key}/stop", { params: { path: { key: p.key } } })
                  .then(({ data }) => {
                    client.setQueryData(key, data);
                  })
              }
            >
              Stop
            </Button>
          </>
        ) : (
          <Button onClick={print}>Print a test plate</Button>
        )}
        {d?.state === "failed" && <span className="text-vermilion">failed: {d.message}</span>}
        {d?.state === "done" && (
          <>
            <span>done in {duration(d.real_s)}</span>
            {planned > 0 && (
              <Button
                onClick={() => {
                  set({
                    paced: [...p.paced, { what: d.what, planned_s: planned, curves: null, real_s: d.real_s }],
                  });
                  setPlanned(0);
                }}
              >
                Note its hours
              </Button>
            )}
          </>
        )}
      </div>
    </div>
  );
}
