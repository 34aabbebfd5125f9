import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, Navigate, useNavigate, useSearchParams } from "react-router";

import { api, complaint } from "../api/client";
import type { ErrorBody, Listed, ListOut } from "../api/schema";
import { Button } from "../ui/Button";

const DAY = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });

/** The shelf of designs, and the bin. A first visit goes straight on to the first design that can be read. */
export function Home() {
  const [search] = useSearchParams();
  const client = useQueryClient();
  const go = useNavigate();
  const [name, setName] = useState("");
  const [wrong, setWrong] = useState<ErrorBody | null>(null);
  const [sure, setSure] = useState(false);
  const list = useQuery({
    queryKey: ["designs"],
    queryFn: async () => {
      const { data, error } = await api.GET("/api/designs");
      if (!data) throw new Error(complaint(error).said);
      return data;
    },
  });
  const first = list.data?.designs.find((d) => !d.trouble);
  if (first && !search.has("shelf")) return <Navigate to={`/designs/${first.id}/bench`} replace />;

  const open = (answer: { data?: { id: string }; error?: unknown }) => {
    if (answer.data) void go(`/designs/${answer.data.id}/brief`);
    else setWrong(complaint(answer.error));
  };
  const changed = (answer: { data?: ListOut; error?: unknown }) => {
    if (answer.data) {
      client.setQueryData(["designs"], answer.data);
      setWrong(null);
    } else setWrong(complaint(answer.error));
  };
  const bin = list.data?.bin ?? [];

  return (
    <main className="mx-auto max-w-2xl px-6 py-14">
      <h1 className="mb-1 text-3xl">Rhombex</h1>
      <p className="mb-7 text-soft">The designs on this shelf.</p>
      {list.isError && <p role="alert">{list.error.message}</p>}
      <ul aria-label="Designs" className="mb-8 divide-y divide-rule border-y border-rule">
        {list.data?.designs.map((d) => (
          <Row key={d.id} design={d} changed={changed} />
        ))}
        {list.data?.designs.length === 0 && (
          <li className="py-3 text-soft">Nothing here yet. Start a new design, or read in a design.json.</li>
        )}
      </ul>
      <form
        className="mb-4 flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          void api.POST("/api/designs", { body: { name: name.trim() || "Untitled" } }).then(open);
        }}
      >
        <input
          aria-label="Name of the new design"
          placeholder="Name of the new design"
          value={name}
          maxLength={60}
          onChange={(e) => {
            setName(e.target.value);
          }}
          className="flex-1 rounded-[3px] border border-rule bg-leaf px-2.5 py-1"
        />
        <Button kind="main" type="submit">
          Start a design
        </Button>
      </form>
      <label className="block text-soft">
        Read in a design.json{" "}
        <input
          type="file"
          accept=".json,application/json"
          className="ml-2 text-ink"
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (!file) return;
            void readDesign(file).then(open);
          }}
        />
      </label>
      {wrong && (
        <p role="alert" className="mt-4 border-l-2 border-vermilion pl-3">
          <strong className="font-medium">{wrong.field}:</strong> {wrong.said}. Nothing was changed.{" "}
          {wrong.do}
        </p>
      )}
      {bin.length > 0 && (
        <section aria-label="Bin" className="mt-10">
          <div className="mb-2 flex items-baseline justify-between">
            <h2 className="text-[16px]">Bin</h2>
            {sure ? (
              <span className="flex gap-2">
                <Button
                  kind="main"
                  onClick={() => {
                    setSure(false);
                    void api.DELETE("/api/bin").then(changed);
                  }}
                >
                  {bin.length === 1 ? "Delete it for good" : `Delete all ${bin.length} for good`}
                </Button>
                <Button
                  onClick={() => {
                    setSure(false);
                  }}
                >
                  Keep them
                </Button>
              </span>
            ) : (
              <Button
                onClick={() => {
                  setSure(true);
                }}
              >
                Empty the bin
              </Button>
            )}
          </div>
          <ul aria-label="Designs in the bin" className="divide-y divide-rule border-y border-rule">
            {bin.map((d) => (
              <li key={d.id} className="flex items-baseline gap-3 py-2">
                <span className="min-w-0 flex-1 truncate">{d.name}</span>
                <span className="text-[12px] text-soft">
                  {d.days_left === 1 ? "one more day" : `${d.days_left ?? 0} more days`}
                </span>
                <Button
                  aria-label={`Restore ${d.name}`}
                  onClick={() =>
                    void api.POST("/api/bin/{id}/restore", { params: { path: { id: d.id } } }).then(changed)
                  }
                >
                  Restore
                </Button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  );
}

function Row({
  design: d,
  changed,
}: {
  design: Listed;
  changed: (answer: { data?: ListOut; error?: unknown }) => void;
}) {
  return (
    <li className="flex items-center gap-3 py-2.5">
      <div className="min-w-0 flex-1">
        {d.trouble ? (
          <p className="truncate text-lg">{d.name}</p>
        ) : (
          <Link className="block truncate text-lg hover:text-plum" to={`/designs/${d.id}/bench`}>
            {d.name}
          </Link>
        )}
        {d.trouble ? (
          <p className="text-[12.5px] text-vermilion">
            It cannot be read: {d.trouble}. It is kept as it is.{" "}
            <Link className="underline" to={`/designs/${d.id}/bench`}>
              Look at its revisions
            </Link>
          </p>
        ) : (
          <p className="text-[12px] text-soft">changed {DAY.format(new Date(`${d.changed_at}Z`))}</p>
        )}
      </div>
      {d.trouble && (
        <a
          className="rounded-[3px] border border-rule bg-leaf px-2.5 py-1 leading-5 hover:border-plum hover:text-plum"
          href={`/api/designs/${d.id}/stored`}
        >
          Download as it is
        </a>
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

/** Send a design's JSON to be read in as a new design. */
export function readDesign(file: File) {
  const form = new FormData();
  form.append("file", file);
  return api.POST("/api/designs/read", { body: form });
}
