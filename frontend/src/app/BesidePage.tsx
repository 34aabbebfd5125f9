import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";

import { api, complaint } from "../api/client";
import type { Difference, StateOut } from "../api/schema";
import { Differences, Halves } from "../stops/shell/Halves";

/** A design beside another, or beside one of its own revisions: drawn at one scale, with everything that is different. */
export default function BesidePage() {
  const { id = "" } = useParams();
  const [query] = useSearchParams();
  const other = query.get("other");
  const revision = Number(query.get("revision")) || undefined;
  const both = useQuery({
    queryKey: ["beside", id, other, revision],
    queryFn: async () => {
      const params = { path: { id } };
      const [here, there] = await Promise.all([
        api.GET("/api/designs/{id}", { params }),
        api.GET("/api/designs/{id}/beside", {
          params: { ...params, query: { ...(other ? { other } : {}), ...(revision ? { revision } : {}) } },
        }),
      ]);
      if (!here.data || !there.data) throw new Error(complaint(here.error ?? there.error).message);
      return { here: here.data, ...there.data };
    },
  });
  const { data } = both;
  // of two revisions the earlier one comes first
  const earlier = Boolean(revision) && !other;
  const [left, right] = data
    ? arranged(
        { state: data.here, name: earlier ? "now" : data.here.design.name },
        { state: data.there, name: data.name },
        earlier,
      )
    : [];
  return (
    <main className="mx-auto flex min-h-dvh max-w-6xl flex-col px-6 py-4">
      <div className="flex items-baseline gap-4">
        <h1 className="flex-1 font-head text-xl">
          {left && right ? `${left.name} beside ${right.name}` : "Side by side"}
        </h1>
        <Link className="underline hover:text-plum" to={`/designs/${id}/shell`}>
          Back to the design
        </Link>
        <Link className="underline hover:text-plum" to="/?shelf">
          The shelf
        </Link>
      </div>
      {both.isPending && <p className="mt-4 text-soft">Looking at both …</p>}
      {both.isError && (
        <p role="alert" className="mt-4">
          They cannot be looked at side by side: {both.error.message}.
        </p>
      )}
      {data && left && right && (
        <>
          <div className="grid h-[22rem]">
            <Halves now={left.state} then={right.state} titles={[left.name, right.name]} />
          </div>
          <Differences now={left.state} then={right.state} />
          <List
            found={data.differences.map((d) => (earlier ? { ...d, here: d.there, there: d.here } : d))}
            titles={[left.name, right.name]}
          />
        </>
      )}
    </main>
  );
}

interface Side {
  state: StateOut;
  name: string;
}

const arranged = (a: Side, b: Side, turned: boolean): [Side, Side] => (turned ? [b, a] : [a, b]);

function List({ found, titles }: { found: readonly Difference[]; titles: readonly [string, string] }) {
  if (!found.length) return <p className="mt-6 text-soft">Nothing else is different.</p>;
  const groups = [...new Set(found.map((d) => d.of))];
  return (
    <section aria-label="What is different" className="mt-6 pb-8">
      <h2 className="mb-2 text-[17px]">What is different</h2>
      <table className="w-full text-left text-[13px]">
        <thead className="text-[12px] text-soft">
          <tr className="border-b border-ink/40">
            <th scope="col" className="py-1 pr-3 font-normal">
              What
            </th>
            {titles.map((t, i) => (
              <th key={i} scope="col" className="w-[30%] py-1 pr-3 font-normal">
                {t}
              </th>
            ))}
          </tr>
        </thead>
        {groups.map((of) => (
          <tbody key={of}>
            <tr>
              <th scope="colgroup" colSpan={3} className="pt-3 pb-1 font-medium">
                {of[0]!.toUpperCase() + of.slice(1)}
              </th>
            </tr>
            {found
              .filter((d) => d.of === of)
              .map((d, i) => (
                <tr key={i} className="border-b border-rule">
                  <th scope="row" className="py-0.5 pr-3 font-normal text-soft">
                    {d.what}
                  </th>
                  <td className="num py-0.5 pr-3">{d.here || "–"}</td>
                  <td className="num py-0.5 pr-3">{d.there || "–"}</td>
                </tr>
              ))}
          </tbody>
        ))}
      </table>
    </section>
  );
}
