import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, Navigate, useNavigate, useSearchParams } from "react-router";

import { api, complaint } from "../api/client";
import type { ErrorBody } from "../api/schema";
import { Button } from "../ui/Button";

/** The shelf of designs. A first visit goes straight on to the first one. */
export function Home() {
  const [search] = useSearchParams();
  const go = useNavigate();
  const [name, setName] = useState("");
  const [wrong, setWrong] = useState<ErrorBody | null>(null);
  const list = useQuery({
    queryKey: ["designs"],
    queryFn: async () => (await api.GET("/api/designs")).data?.designs ?? [],
  });
  const first = list.data?.[0];
  if (first && !search.has("shelf")) return <Navigate to={`/designs/${first.id}/bench`} replace />;

  const open = (answer: { data?: { id: string }; error?: unknown }) => {
    if (answer.data) void go(`/designs/${answer.data.id}/brief`);
    else setWrong(complaint(answer.error));
  };

  return (
    <main className="mx-auto max-w-xl px-6 py-16">
      <h1 className="mb-1 text-3xl">Rhombex</h1>
      <p className="mb-8 text-soft">Designs on the shelf of the Lantern Street Sound Archive’s workshop.</p>
      <ul className="mb-8 divide-y divide-rule border-y border-rule">
        {list.data?.map((d) => (
          <li key={d.id}>
            <Link className="block py-2.5 text-lg hover:text-plum" to={`/designs/${d.id}/bench`}>
              {d.name}
            </Link>
          </li>
        ))}
        {list.data?.length === 0 && (
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
    </main>
  );
}

/** Send a design's JSON to be read in as a new design. */
export function readDesign(file: File) {
  const form = new FormData();
  form.append("file", file);
  return api.POST("/api/designs/read", { body: form as never });
}
