import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Navigate, useNavigate, useSearchParams } from "react-router";

import { api, complaint } from "../api/client";
import type { ErrorBody, ListOut } from "../api/schema";
import { Button } from "../ui/Button";
import { ReadIn } from "./ReadIn";
import { ShelfRow } from "./ShelfRow";

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
      if (!data) throw new Error(complaint(error).message);
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
    <main className="mx-auto max-w-5xl px-6 py-14">
      <h1 className="mb-1 text-3xl">Rhombex</h1>
      <p className="mb-7 text-soft">The designs on this shelf.</p>
      {list.isError && <p role="alert">{list.error.message}</p>}
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
      <ReadIn
        onRead={(id) => {
          void go(`/designs/${id}/brief`);
        }}
        onWrong={setWrong}
      />
      {wrong && (
        <p role="alert" className="mt-3 border-l-2 border-vermilion pl-3">
          <strong className="font-medium">{wrong.field}:</strong> {wrong.message}. Nothing was changed.{" "}
          {wrong.do}
        </p>
      )}
      <ul aria-label="Designs" className="mt-7 divide-y divide-rule border-y border-rule">
        {list.data?.designs.map((d) => (
          <ShelfRow
            key={d.id}
            design={d}
            others={list.data.designs.filter((x) => x.id !== d.id && !x.trouble)}
            changed={changed}
            onWrong={setWrong}
            again={() => void client.invalidateQueries({ queryKey: ["designs"] })}
          />
        ))}
        {list.data?.designs.length === 0 && (
          <li className="py-3 text-soft">Nothing here yet. Start a new design, or read in a design.json.</li>
        )}
      </ul>
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
