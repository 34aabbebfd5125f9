import { useState } from "react";

import type { Edit } from "../../api/client";
import type { HardwareTable, JointRow } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { Hatch } from "../../sheet/Hatch";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { brief, show } from "../../ui/number";
import { Why } from "../../ui/Why";
import { TableHead } from "../../ui/TableHead";
import { Drawer } from "./Drawer";
import { Magnets } from "./Magnets";
import { Snaps } from "./Snaps";
import { Stack } from "./Stack";
import { useHardware } from "./useHardware";

const HELD: Record<JointRow["joint"]["holding"], string> = {
  insert: "heat-set insert",
  "cut in plastic": "thread cut in plastic",
  "captive nut": "captive nut",
  "nut from below": "nut from below",
  "through bolt": "through bolt",
  "threaded rod": "threaded rod",
  nut: "nut",
  "own thread": "its own thread",
  standoff: "standoff",
};

const HEADS = [
  { value: "socket cap", label: "socket caps", hint: "high; they sink where the wall is thick" },
  { value: "button head", label: "button heads", hint: "half as high" },
  {
    value: "countersunk",
    label: "countersunk",
    hint: "flush in printed walls; in sheet button heads are taken",
  },
] as const;

/** Every joint of the case and of its components: what holds it, the screw in its stack, how few kinds serve, what to buy. */
export function HardwareSheet({ state, act }: SheetProps) {
  const { table, there, isError } = useHardware(state);
  const [picked, setPicked] = useState("");
  if (!table || !there)
    return (
      <div className="grid h-full place-items-center text-soft" aria-busy={!isError}>
        {isError ? "The table of joints did not come. Look again in a moment." : "Listing the joints …"}
      </div>
    );
  const first = table.rows[0];
  if (!first && !table.magnets?.now && !table.snaps?.now)
    return (
      <div className="grid h-full place-items-center p-8 text-center">
        <div>
          <h2 className="mb-2 text-xl">Nothing is screwed yet</h2>
          <p className="max-w-sm text-soft">
            The screws of the case and of every component are listed here once there is a case with something
            in it.
          </p>
        </div>
      </div>
    );
  const row = table.rows.find((r) => r.joint.key === picked) ?? first;
  const names = new Map(state.view.things.map((t) => [t.id, t.name]));
  return (
    <div
      className="h-full overflow-y-auto px-7 py-4"
      tabIndex={0}
      role="region"
      aria-label="Joints and screws"
    >
      <svg aria-hidden className="absolute h-0 w-0">
        <Hatch />
      </svg>
      {row && (
        <>
          <Kinds table={there} onTake={(edits) => void act.edit(edits, "take the fewest kinds of screws")} />
          <div className="mt-3 flex flex-wrap items-start gap-x-6 gap-y-4">
            <Joints rows={there.rows} picked={row.joint.key} onPick={setPicked} />
            <Slip
              key={row.joint.key}
              row={row}
              there={there.rows.find((r) => r.joint.key === row.joint.key) ?? row}
              names={names}
              onEdit={(e, said) => void act.edit([e], said)}
            />
          </div>
        </>
      )}
      {table.snaps && !table.magnets?.now && (
        <Snaps table={table.snaps} looked={there.snaps} onEdit={(e, said) => void act.edit([e], said)} />
      )}
      {table.magnets && !table.snaps?.now && (
        <Magnets
          table={table.magnets}
          looked={there.magnets}
          onEdit={(e, said) => void act.edit([e], said)}
        />
      )}
      <Drawer table={table} />
    </div>
  );
}

/** How many kinds of screws there are, and how few would do. */
function Kinds({ table, onTake }: { table: HardwareTable; onTake: (edits: Edit[]) => void }) {
  const { now, least, proven, without } = table.fewest;
  const fewer = least.length < now.length;
  const words = (k: (typeof now)[number]) => `${k.count} x ${k.words}`;
  return (
    <section aria-label="Kinds of screws" className="flex flex-wrap items-baseline gap-x-4 gap-y-1.5">
      <p>
        <span className="font-medium">
          {now.length} {now.length === 1 ? "kind" : "kinds"} of screws
        </span>
        <span className="text-soft">: {now.map(words).join(", ")}. </span>
        {without.length > 0 && (
          <span className="text-vermilion">{without.length} without a screw that fits. </span>
        )}
        {!fewer && proven && without.length === 0 && <span className="text-soft">No fewer serve.</span>}
      </p>
      {table.edits.length > 0 && (
        <Button
          kind={fewer ? "main" : "plain"}
          onClick={() => {
            onTake([...table.edits]);
          }}
        >
          {fewer ? `Take the fewest kinds: ${least.length}` : "Take what lies in the drawer"}
        </Button>
      )}
      {table.edits.length > 0 && (
        <span className="text-[12px] text-soft">
          {least.map(words).join(", ")}
          {proven && fewer ? "; fewer cannot serve all" : ""}
        </span>
      )}
    </section>
  );
}

function Joints({
  rows,
  picked,
  onPick,
}: {
  rows: readonly JointRow[];
  picked: string;
  onPick: (key: string) => void;
}) {
  return (
    <table className="min-w-[26rem] flex-1 border-collapse text-left">
      <caption className="sr-only">Joints</caption>
      <TableHead heads={["Joint", "Screws", "Held by", "Undone", "Reach"]} />
      <tbody>
        {rows.map((r) => {
          const g = r.joint;
          const on = g.key === picked;
          return (
            <tr
              key={g.key}
              className={`cursor-pointer border-b border-rule align-top ${on ? "bg-plumwash" : "hover:bg-paper"}`}
              onClick={() => {
                onPick(g.key);
              }}
            >
              <th scope="row" className="py-1.5 pr-3 pl-1 font-medium">
                <button type="button" aria-pressed={on} className="cursor-pointer text-left">
                  {g.name}
                </button>
                <span className="block text-[11.5px] font-normal text-soft">
                  {g.beside
                    ? `by its edges, on ${g.into}`
                    : g.of
                      ? `on ${g.part || g.into}`
                      : `through ${g.holds} into ${g.into}`}
                </span>
              </th>
              <td className="num py-1.5 pr-3 whitespace-nowrap">
                {g.head === "stud" ? (
                  <span className="text-soft">{g.count} studs</span>
                ) : (
                  <span className={g.screw_mm === null ? "text-vermilion" : ""}>
                    {g.count} x {r.screw}
                  </span>
                )}
                {(g.head === "button head" || g.head === "countersunk") && (
                  <span className="block text-[11px] text-soft">{g.head}</span>
                )}
                {g.by_hand && <span className="block text-[11px] text-plum">by hand</span>}
              </td>
              <td className="py-1.5 pr-3">{HELD[g.holding]}</td>
              <td className="py-1.5 pr-3 whitespace-nowrap">
                <Why label={`How often the ${g.name} screws are undone`} trail={r.opened}>
                  {g.opened ? `${show(r.opened.value, 0)} times` : "once"}
                </Why>
              </td>
              <td className={`py-1.5 ${r.reach.free ? "text-soft" : "text-vermilion"}`}>
                {r.reach.free ? "free" : "blocked"}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

const inWords = ({ joint: g, screw, thread }: JointRow) =>
  g.screw_mm === null
    ? screw || "a standoff's stud"
    : g.head === "stud"
      ? `${g.count} studs of standoffs, ${thread}`
      : `${g.count} x ${screw}, ${g.head === "nut" ? "threaded rod with two nuts" : g.head}`;

/** Newtons that are known to a fifth, without digits that say otherwise. */
const tens = (n: number) => show(Math.round(n / 10) * 10, 0);

/** One joint whole: its stack to scale, its length, what it bears, how it is reached. */
function Slip({
  row,
  there,
  names,
  onEdit,
}: {
  row: JointRow;
  /** The joint as it would be with what is pointed at. */
  there: JointRow;
  names: Map<string, string>;
  onEdit: (e: Edit, said: string) => void;
}) {
  const g = row.joint;
  const { bears, reach } = there;
  const wait = reach.wait.map((id) => names.get(id) ?? id);
  return (
    <section
      aria-label={`Joint: ${g.name}`}
      className="w-[20.5rem] shrink-0 rounded-[4px] border border-rule bg-leaf p-3"
    >
      <h2 className="text-[14.5px]">{g.name}</h2>
      <p className="mb-1 text-[12px] text-soft">{inWords(there)}</p>
      {/* as high as it is, so that what is pointed at stays under the pointer */}
      <div className="relative">
        <div className={there === row ? undefined : "invisible"}>
          <Stack row={row} />
        </div>
        {there !== row && (
          <div className="absolute inset-0 [&>svg]:h-full">
            <Stack row={there} />
          </div>
        )}
      </div>
      <div className="mt-2 space-y-1.5">
        {row.heads && (
          <Choice
            tried
            label="Heads"
            value={row.heads}
            options={HEADS}
            onPick={(v) => {
              onEdit({ do: "set", path: "shell.heads", value: v }, `${v} screws hold the case`);
            }}
          />
        )}
        {row.lengths.length > 0 && (
          <Choice
            tried
            label="Length"
            value={String(g.screw_mm ?? "")}
            options={row.lengths.map((x) => ({
              value: String(x.length_mm),
              label: x.words.replace(/^\S+ x /, ""),
            }))}
            onPick={(v) => {
              const to = row.lengths.find((x) => String(x.length_mm) === v);
              if (to) onEdit(to.edit, `${to.words} for the ${g.name}`);
            }}
          />
        )}
        {row.by_stack && (
          <Button onClick={() => onEdit(row.by_stack!, `let the stack choose for the ${g.name}`)}>
            Let the stack choose the length
          </Button>
        )}
        {row.holdings.length > 0 && (
          <Choice
            tried
            label="Held by"
            value={row.held_by as (typeof row.holdings)[number]["holding"]}
            options={row.holdings.map((x) => ({ value: x.holding, label: HELD[x.holding] }))}
            onPick={(v) => {
              const to = row.holdings.find((x) => x.holding === v);
              if (to) onEdit(to.edit, `${HELD[to.holding]} for the ${g.name}`);
            }}
          />
        )}
      </div>
      <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-3 gap-y-0.5 border-t border-rule pt-2 text-[12.5px]">
        <dt className="text-soft">Pulls out at</dt>
        <dd className="num">
          {bears.pull && bears.low_n !== null && bears.high_n !== null ? (
            <Why label={`Pull-out of one screw of the ${g.name}`} trail={bears.pull}>
              {tens(bears.low_n)}
              {bears.high_n > bears.low_n && ` – ${tens(bears.high_n)}`} N each
            </Why>
          ) : (
            <span className="font-sans text-soft">no plastic holds it</span>
          )}
        </dd>
        {bears.load_n !== null && (
          <>
            <dt className="text-soft">May carry</dt>
            <dd className="num">{tens(bears.load_n)} N together</dd>
          </>
        )}
        <dt className="text-soft">Tighten to</dt>
        <dd className="num">
          <Why label={`Torque of the ${g.name} screws`} trail={bears.torque}>
            at most {brief(bears.torque_nm, 2)} N m
          </Why>
        </dd>
        <dt className="text-soft">Tool</dt>
        <dd>
          {reach.tool}
          {!reach.free && <span className="text-vermilion">: {reach.blocked_by} is in the way</span>}
        </dd>
        {wait.length > 0 && (
          <>
            <dt className="text-soft">Before</dt>
            <dd>{wait.join(", ")}</dd>
          </>
        )}
      </dl>
    </section>
  );
}
