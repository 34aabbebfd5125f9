import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { api, complaint } from "../api/client";
import { Button } from "../ui/Button";
import { Refused } from "../desk/desk";
import { useRevisions } from "./useRevisions";

/** A design that cannot be read: what is wrong, its document as it is stored, and the revisions to go back to. */
export function CannotShow({ id, error }: { id: string; error: Error }) {
  const client = useQueryClient();
  const [said, setSaid] = useState("");
  const body = error instanceof Refused ? error.body : null;
  const stored = body?.field === "document";
  const revisions = useRevisions(id, 0);
  const goTo = async (number: number) => {
    const { data: at } = await api.GET("/api/designs/{id}/version", { params: { path: { id } } });
    const { data, error: refused } = await api.POST("/api/designs/{id}/goto", {
      params: { path: { id } },
      body: { base_version: at?.version ?? 0, number },
    });
    if (data) client.setQueryData(["design", id], data);
    else setSaid(complaint(refused).message);
  };
  return (
    <main className="mx-auto max-w-2xl p-16">
      <h1 className="mb-2 text-xl">This design cannot be shown</h1>
      <p role="alert">
        {error.message} {body?.kept}
      </p>
      <p className="mt-1 text-soft">{body?.do}</p>
      {stored && (
        <>
          <p className="mt-4 flex gap-2">
            <a
              className="rounded-[3px] border border-rule bg-leaf px-2.5 py-1 hover:border-plum hover:text-plum"
              href={`/api/designs/${id}/stored`}
            >
              Download as it is
            </a>
          </p>
          <h2 className="mt-6 mb-1 text-[15px]">Go back to a revision</h2>
          <ol aria-label="Revisions" className="divide-y divide-rule border-y border-rule">
            {revisions.rows.map((s) => (
              <li key={s.number}>
                <button
                  type="button"
                  onClick={() => void goTo(s.number)}
                  className="flex w-full cursor-pointer items-baseline gap-2 py-1 text-left hover:text-plum"
                >
                  <span className="num w-7 text-right text-soft">{s.number}</span>
                  <span className="min-w-0 flex-1">{s.said}</span>
                  {s.current && <span className="text-[11.5px] text-soft">stands here</span>}
                </button>
              </li>
            ))}
          </ol>
          {revisions.more && (
            <Button className="mt-2" onClick={revisions.older}>
              Older revisions
            </Button>
          )}
          {said && (
            <p role="alert" className="mt-2 text-vermilion">
              {said}
            </p>
          )}
        </>
      )}
      <p className="mt-6">
        <Link className="text-plum underline" to="/?shelf">
          Back to the shelf
        </Link>
      </p>
    </main>
  );
}
