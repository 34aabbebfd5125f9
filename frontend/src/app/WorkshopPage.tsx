import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";

import { api, complaint } from "../api/client";
import type { ErrorBody, ErrorOut, Printer, WorkshopOut } from "../api/schema";
import { useWorkshop } from "../desk/useWorkshop";
import { Button } from "../ui/Button";
import { useStay } from "../ui/useStay";
import { Working } from "../ui/working";
import type { Put } from "../desk/workshop";
import { Filaments } from "./Filaments";
import { PrinterCard } from "./PrinterCard";
import { Spools } from "./Spools";
import { Stock } from "./Stock";
import { StandoffList } from "./StandoffList";

/** A printer to be filled in: the limits of another one, nothing of its history. */
function fresh(like: Printer, key: string, name: string): Printer {
  return { ...like, key, name, paced: [], health: { skew_mm_per_100: 0, flow_share: 1, checked: "" } };
}

function freeKey(printers: readonly Printer[]) {
  let n = printers.length + 1;
  while (printers.some((p) => p.key === `printer-${n}`)) n++;
  return `printer-${n}`;
}

/** Printers with their limits, state and pace, and the spools on the rack; used by all designs. */
export function WorkshopPage() {
  const client = useQueryClient();
  const go = useNavigate();
  const data = useWorkshop().data;
  const [trouble, setTrouble] = useState<ErrorBody | null>(null);
  useEffect(() => {
    document.documentElement.dataset.theme = localStorage.getItem("theme") === "night" ? "night" : "day";
    document.title = "Workshop · Rhombex";
  }, []);
  const told = ({
    data: after,
    error,
    response,
  }: {
    data?: WorkshopOut | undefined;
    error?: WorkshopOut | ErrorOut | undefined;
    response: Response;
  }) => {
    if (after) {
      client.setQueryData(["workshop"], after);
      void client.invalidateQueries({ queryKey: ["design"] });
      setTrouble(null);
    } else if (response.status === 409 && error && "workshop" in error) {
      client.setQueryData(["workshop"], error);
      setTrouble({
        field: "workshop",
        message: "Another window changed it first. Nothing was overwritten",
        kept: "",
        do: "Look at how it stands now and do it again.",
      });
    } else setTrouble(complaint(error));
  };
  // one after another: a quick hand must not collide with itself
  const chain = useRef<Promise<void>>(Promise.resolve());
  const [busy, setBusy] = useState(0);
  useStay(busy > 0);
  const queued = (call: (now: WorkshopOut) => Promise<Parameters<typeof told>[0]>) => {
    setBusy((n) => n + 1);
    chain.current = chain.current
      .then(async () => {
        const now = client.getQueryData<WorkshopOut>(["workshop"]);
        if (now) told(await call(now));
      })
      .catch(() => {
        setTrouble(complaint(undefined));
      })
      .finally(() => {
        setBusy((n) => n - 1);
      });
  };
  const put: Put = (edits) => {
    queued((now) =>
      api.POST("/api/workshop/edits", {
        body: {
          base_version: now.version,
          edits: typeof edits === "function" ? edits(now.workshop) : edits,
        },
      }),
    );
  };
  const step = (which: "undo" | "redo") => {
    queued((now) => api.POST(`/api/workshop/${which}`, { body: { base_version: now.version } }));
  };
  return (
    <div className="grid h-full grid-rows-[46px_minmax(0,1fr)]">
      <header className="flex items-center gap-3 border-b border-rule px-3.5">
        <Link to="/?shelf" className="font-head text-[17px] font-bold">
          Rhombex
        </Link>
        <span aria-hidden className="h-5 w-px bg-rule" />
        <h1 className="text-[16px]">Workshop</h1>
        <Button
          kind="quiet"
          disabled={!data?.undoes}
          title={data?.undoes ? `Undo: ${data.undoes}` : undefined}
          onClick={() => {
            step("undo");
          }}
        >
          Undo
        </Button>
        <Button
          kind="quiet"
          disabled={!data?.redoes}
          title={data?.redoes ? `Redo: ${data.redoes}` : undefined}
          onClick={() => {
            step("redo");
          }}
        >
          Redo
        </Button>
        <div className="flex-1" />
        <a
          href="/api/workshop/workshop.json"
          className="rounded-[3px] px-2.5 py-1 leading-5 hover:bg-paper hover:text-plum"
          title="For the command line: rhombex check design.json --workshop workshop.json"
        >
          Save as a file
        </a>
        <Button kind="quiet" onClick={() => void go(-1)}>
          Back to the design
        </Button>
      </header>
      <main className="relative overflow-y-auto bg-leaf px-8 py-5" tabIndex={0} aria-label="Workshop">
        {trouble && (
          <p role="alert" className="mb-3 text-vermilion">
            {trouble.field}: {trouble.message}. {trouble.do}
          </p>
        )}
        {data && data.left_out.length > 0 && (
          <div role="status" className="mb-4 border-l-2 border-saffron py-1 pl-3">
            <p>
              <strong className="font-medium">
                {data.left_out.length === 1 ? "One entry" : `${data.left_out.length} entries`} of the stored
                workshop cannot be read
              </strong>{" "}
              and {data.left_out.length === 1 ? "is" : "are"} left out. With the next change they are set
              aside, not lost.{" "}
              <a className="text-plum underline" href="/api/workshop/stored">
                Download the workshop as it is stored
              </a>
            </p>
            <ul className="num mt-1 text-[11.5px] text-soft">
              {data.left_out.slice(0, 5).map((x) => (
                <li key={x}>{x}</li>
              ))}
            </ul>
          </div>
        )}
        {data && (
          <Working value={busy > 0}>
            <div className="mb-2 flex items-baseline gap-3">
              <h2 className="text-[16px]">Printers</h2>
              <Button
                kind="quiet"
                onClick={() => {
                  const all = data.workshop.printers;
                  put([{ do: "add-printer", printer: fresh(all[0]!, freeKey(all), "New printer") }]);
                }}
              >
                Add a printer
              </Button>
            </div>
            <ul className="grid grid-cols-3 gap-6 max-[1100px]:grid-cols-2">
              {data.workshop.printers.map((p) => (
                <PrinterCard
                  key={p.key}
                  printer={p}
                  pace={data.paces[p.key]!}
                  learned={data.learned[p.key]!}
                  allowances={data.allowances}
                  filaments={data.filaments}
                  usedBy={data.printed_on[p.key] ?? []}
                  onCopy={() => {
                    const key = freeKey(data.workshop.printers);
                    put([{ do: "add-printer", printer: fresh(p, key, `${p.name}, copy`) }]);
                  }}
                  put={put}
                />
              ))}
            </ul>
            <Spools
              filaments={data.filaments}
              own={data.workshop.filaments}
              spools={data.workshop.spools}
              put={put}
            />
            <Filaments
              own={data.workshop.filaments}
              figures={data.figures}
              usedBy={data.printed_in}
              put={put}
            />
            <Stock kinds={data.small_parts} stock={data.workshop.stock ?? []} put={put} />
            <StandoffList lengths={data.workshop.standoffs_mm ?? []} put={put} />
          </Working>
        )}
      </main>
    </div>
  );
}
