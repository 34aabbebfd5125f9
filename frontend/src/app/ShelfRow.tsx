import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";

import { api, complaint } from "../api/client";
import type { ErrorBody, Glance, Listed, ListOut } from "../api/schema";
import { Button } from "../ui/Button";
import { brief } from "../ui/number";
import { useSeen } from "../ui/useSeen";

const DAY = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });
const TINT: Record<string, string> = {
  board: "var(--verdigris)",
  supply: "var(--vermilion)",
  fan: "var(--saffron)",
  cooler: "var(--saffron)",
  radiator: "var(--saffron)",
  panel: "var(--plum)",
};

let before: Promise<unknown> = Promise.resolve();

/** What takes long is asked one after another. */
function inTurn<T>(ask: () => Promise<T>): Promise<T> {
  const mine = before.then(ask, ask);
  before = mine.catch(() => undefined);
  return mine;
}

/** A design on the shelf: its picture, size, state and date, with open, copy, rename and delete. */
export function ShelfRow({
  design: d,
  others,
  changed,
  again,
  onWrong,
}: {
  design: Listed;
  /** What it can be looked at beside. */
  others: readonly Listed[];
  changed: (answer: { data?: ListOut; error?: unknown }) => void;
  again: () => void;
  onWrong: (wrong: ErrorBody | null) => void;
}) {
  const [box, seen] = useSeen<HTMLLIElement>();
  const go = useNavigate();
  const [naming, setNaming] = useState<"rename" | "copy" | null>(null);
  const glance = async (settled: boolean) => {
    const { data, error } = await api.GET("/api/designs/{id}/glance", {
      params: { path: { id: d.id }, query: { settled } },
    });
    if (!data) throw new Error(complaint(error).message);
    return data;
  };
  const first = useQuery({
    queryKey: ["glance", d.id, d.changed_at],
    enabled: seen && !d.trouble,
    retry: false,
    queryFn: () => glance(false),
  });
  // what only settled hours and support tell comes after, one design at a time
  const last = useQuery({
    queryKey: ["glance", d.id, d.changed_at, "settled"],
    enabled: first.data?.settled === false,
    retry: false,
    // whoever leaves the shelf no longer waits for it
    queryFn: ({ signal }) =>
      inTurn(() => {
        signal.throwIfAborted();
        return glance(true);
      }),
  });
  const look = { data: last.data ?? first.data };
  const call = async (name: string) => {
    const params = { path: { id: d.id } };
    if (naming === "copy") return api.POST("/api/designs/{id}/copy", { params, body: { name } });
    const now = await api.GET("/api/designs/{id}/version", { params });
    if (!now.data) return now;
    return api.POST("/api/designs/{id}/edits", {
      params,
      body: {
        base_version: now.data.version,
        edits: [{ do: "set", path: "name", value: name }],
        said: `name ${name}`,
      },
    });
  };
  const named = async (name: string) => {
    const { data, error } = await call(name);
    if (data) {
      setNaming(null);
      onWrong(null);
      again();
    } else onWrong(complaint(error));
  };
  const open = `/designs/${d.id}/bench`;
  return (
    <li ref={box} className="flex items-center gap-4 py-2.5">
      <div className="flex h-16 w-24 shrink-0 items-center justify-center">
        {look.data && <Picture look={look.data} />}
      </div>
      <div className="min-w-0 flex-1">
        {naming ? (
          <NameForm
            label={naming === "copy" ? `Name of the copy of ${d.name}` : `New name of ${d.name}`}
            from={naming === "copy" ? `${d.name} copy`.slice(0, 60) : d.name}
            verb={naming === "copy" ? "Copy" : "Rename"}
            onName={(name) => void named(name)}
            onClose={() => {
              setNaming(null);
            }}
          />
        ) : d.trouble ? (
          <p className="truncate text-lg">{d.name}</p>
        ) : (
          <Link className="block truncate text-lg hover:text-plum" to={open}>
            {d.name}
          </Link>
        )}
        {d.trouble ? (
          <p className="text-[12.5px] text-vermilion">
            It cannot be read: {d.trouble}. It is kept as it is.{" "}
            <Link className="underline" to={open}>
              Look at its revisions
            </Link>
          </p>
        ) : (
          <p className="text-[12px] text-soft">
            {look.data && <State look={look.data} />}
            changed {DAY.format(new Date(`${d.changed_at}Z`))}
          </p>
        )}
      </div>
      {d.trouble ? (
        <a
          className="rounded-[3px] border border-rule bg-leaf px-2.5 py-1 leading-5 hover:border-plum hover:text-plum"
          href={`/api/designs/${d.id}/stored`}
        >
          Download as it is
        </a>
      ) : (
        !naming && (
          <>
            {others.length > 0 && (
              <select
                aria-label={`Compare ${d.name} with`}
                value=""
                className="w-28 rounded-[3px] border border-rule bg-leaf px-1.5 py-1 leading-5 hover:border-plum"
                onChange={(e) => {
                  void go(`/designs/${d.id}/beside?other=${e.target.value}`);
                }}
              >
                <option value="" disabled>
                  Compare
                </option>
                {others.map((o) => (
                  <option key={o.id} value={o.id}>
                    with {o.name}
                  </option>
                ))}
              </select>
            )}
            {(["copy", "rename"] as const).map((what) => (
              <Button
                key={what}
                aria-label={`${what === "copy" ? "Copy" : "Rename"} ${d.name}`}
                onClick={() => {
                  setNaming(what);
                }}
              >
                {what === "copy" ? "Copy" : "Rename"}
              </Button>
            ))}
          </>
        )
      )}
      <Button
        aria-label={`Delete ${d.name}`}
        title="Into the bin, for 30 days"
        onClick={() => void api.DELETE("/api/designs/{id}", { params: { path: { id: d.id } } }).then(changed)}
      >
        Delete
      </Button>
    </li>
  );
}

function State({ look }: { look: Glance }) {
  const open = [
    look.stops && `${look.stops} ${look.stops === 1 ? "stop" : "stops"}`,
    look.weigh && `${look.weigh} to weigh`,
  ].filter(Boolean);
  return (
    <>
      {look.size_mm && <span className="num">{look.size_mm.map((v) => brief(v, 1)).join(" × ")} mm · </span>}
      {look.begun ? (
        <span className={look.stops ? "text-vermilion" : look.weigh ? "text-saffron" : "text-verdigris"}>
          {open.length ? open.join(", ") : "no open concerns"}
          {!look.settled && " so far"}
        </span>
      ) : (
        "not begun"
      )}
      {" · "}
    </>
  );
}

/** From above, back at the top, as the plan on the bench. */
function Picture({ look }: { look: Glance }) {
  const xs = look.patches.flatMap((p) => [p.lo[0], p.hi[0]]);
  const ys = look.patches.flatMap((p) => [p.lo[1], p.hi[1]]);
  if (xs.length === 0) return null;
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const air = Math.max(x1 - x0, y1 - y0) / 40;
  return (
    <svg
      aria-hidden
      className="h-full w-full"
      viewBox={`${x0 - air} ${-y1 - air} ${x1 - x0 + 2 * air} ${y1 - y0 + 2 * air}`}
    >
      {look.patches.map((p, i) => (
        <rect
          key={i}
          x={p.lo[0] + p.wall_mm / 2}
          y={-p.hi[1] + p.wall_mm / 2}
          width={Math.max(0, p.hi[0] - p.lo[0] - p.wall_mm)}
          height={Math.max(0, p.hi[1] - p.lo[1] - p.wall_mm)}
          rx={p.kind === "case" ? 3 : 0}
          fill={p.kind === "case" ? "none" : (TINT[p.kind] ?? "var(--slate)")}
          fillOpacity={0.28}
          stroke={p.kind === "case" ? "var(--plum)" : (TINT[p.kind] ?? "var(--slate)")}
          strokeWidth={p.kind === "case" ? p.wall_mm : 1}
          vectorEffect={p.kind === "case" ? undefined : "non-scaling-stroke"}
        />
      ))}
    </svg>
  );
}

function NameForm({
  label,
  from,
  verb,
  onName,
  onClose,
}: {
  label: string;
  from: string;
  verb: string;
  onName: (name: string) => void;
  onClose: () => void;
}) {
  const [name, setName] = useState(from);
  return (
    <form
      className="mb-1 flex gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (name.trim()) onName(name.trim());
      }}
      onKeyDown={(e) => {
        if (e.key === "Escape") onClose();
      }}
    >
      <input
        aria-label={label}
        autoFocus
        maxLength={60}
        value={name}
        onChange={(e) => {
          setName(e.target.value);
        }}
        onFocus={(e) => {
          e.target.select();
        }}
        className="min-w-0 flex-1 rounded-[3px] border border-rule bg-leaf px-2 py-0.5"
      />
      <Button kind="main" type="submit">
        {verb}
      </Button>
      <Button onClick={onClose}>Close</Button>
    </form>
  );
}
