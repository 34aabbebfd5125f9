import { useEffect, useRef, useState } from "react";

import { api, complaint } from "../../api/client";
import type { ErrorBody, OwnOut, Solved } from "../../api/schema";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { brief, show } from "../../ui/number";
import { MeasuredBoard } from "./MeasuredBoard";
import { type Book, emptyBook, HOW, keepBook, keptBook, reading, type Row } from "./notebook";

const UNITS = [
  { value: "mm", label: "mm" },
  { value: "in", label: "inches" },
] as const;
const cell = "rounded-[3px] border border-rule bg-leaf px-1 py-0.5 min-w-0";

/** Caliper readings, brought together as they are typed; the one that contradicts the others is named. */
export function NotebookRoom({ onMade }: { onMade: (made: OwnOut) => void }) {
  const [book, setBook] = useState<Book>(keptBook);
  const [solved, setSolved] = useState<Solved | null>(null);
  const [wrong, setWrong] = useState<ErrorBody | null>(null);
  const [on, setOn] = useState<string | null>(null);
  const last = useRef<string | null>(null);
  const filled = book.readings.filter((r) => r.value.trim());
  const asked = JSON.stringify({ ...book, readings: filled });

  useEffect(() => {
    keepBook(book);
  }, [book]);
  useEffect(() => {
    if (JSON.parse(asked).readings.length === 0) return;
    const stop = new AbortController();
    const wait = setTimeout(() => {
      void api
        .POST("/api/notebook", { body: { notebook: JSON.parse(asked) }, signal: stop.signal })
        .then(({ data, error }) => {
          if (data) setSolved(data);
          setWrong(data ? null : complaint(error));
        })
        .catch(() => undefined); // a newer question is on its way
    }, 150);
    return () => {
      clearTimeout(wait);
      stop.abort();
    };
  }, [asked]);

  const set = (change: Partial<Book>) => {
    setBook((b) => ({ ...b, ...change }));
  };
  const row = (id: string, change: Partial<Row>) => {
    setBook((b) => ({ ...b, readings: b.readings.map((r) => (r.id === id ? { ...r, ...change } : r)) }));
  };
  const freeId = () => String(Math.max(0, ...book.readings.map((r) => Number(r.id) || 0)) + 1);
  const add = (r: Row) => {
    setBook((b) => ({ ...b, readings: [...b.readings, r] }));
    last.current = r.id;
    setTimeout(() => document.getElementById(`reading-${r.id}`)?.focus(), 30);
  };
  const press = async () => {
    const target =
      book.readings.find((r) => r.id === last.current) ?? book.readings.find((r) => !r.value.trim());
    if (!target) return;
    const { data, error } = await api.POST("/api/devices/caliper/type", {
      body: { how: target.how, of: target.of, along: target.along, unit: book.unit },
    });
    if (!data) {
      setWrong(complaint(error));
      return;
    }
    // as the real kind does: the digits, then the return key, which goes to the next empty field
    row(target.id, { value: data.keys.trim() });
    const next = book.readings.find((r) => r.id !== target.id && !r.value.trim());
    last.current = next?.id ?? null;
    if (next) document.getElementById(`reading-${next.id}`)?.focus();
  };
  const suspects = solved?.suspects ?? [];
  const residual = new Map((solved?.residuals ?? []).filter((r) => r.turn === 0).map((r) => [r.reading, r]));
  const n = solved?.next;
  const names = book.features.map((f) => f.name);
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_25rem] max-[1150px]:grid-cols-[minmax(0,1fr)_23rem]">
      <div
        className="min-h-0 overflow-y-auto px-5 py-4"
        tabIndex={0}
        role="region"
        aria-label="What the readings make"
      >
        <MeasuredBoard book={book} solved={filled.length ? solved : null} on={on} />
        <div aria-live="polite" className="mt-2 space-y-1.5">
          {wrong && (
            <p role="alert" className="text-vermilion">
              {wrong.field}: {wrong.message}. {wrong.do}
            </p>
          )}
          {filled.length > 0 && solved?.hint && (
            <p className={suspects.length ? "border-l-2 border-vermilion pl-3 font-medium" : "text-soft"}>
              {solved.hint}
            </p>
          )}
          {filled.length > 0 && solved?.lacking && (
            <p className={solved.off.length ? "border-l-2 border-vermilion pl-3 font-medium" : "text-soft"}>
              No component yet: {solved.lacking}.
            </p>
          )}
          {filled.length > 0 && n && (
            <p className="flex flex-wrap items-baseline gap-2">
              <span>
                Measure next: {HOW[n.how]}, {n.of.join(" and ")}
                {n.of.length > 1 && n.how !== "depth" && ` along ${n.along}`}: {n.why}.
              </span>
              <Button
                onClick={() => {
                  add(reading(freeId(), n.how, n.of, n.along));
                }}
              >
                Add this reading
              </Button>
            </p>
          )}
        </div>
        {solved && filled.length > 0 && <Places solved={solved} />}
        <div className="mt-4 flex flex-wrap gap-2 border-t border-rule pt-3">
          <Button
            kind="main"
            disabled={!solved || filled.length === 0 || solved.lacking !== ""}
            onClick={() => {
              void api
                .POST("/api/notebook/component", { body: { notebook: JSON.parse(asked) } })
                .then(({ data, error }) => {
                  if (data) onMade(data);
                  else setWrong(complaint(error));
                });
            }}
          >
            Make it a component
          </Button>
          <Button
            onClick={() => {
              setSolved(null);
              setWrong(null);
              setBook(emptyBook());
            }}
          >
            A new page
          </Button>
          <Button
            onClick={() => {
              void api.GET("/api/devices/caliper/board").then(({ data }) => {
                if (data)
                  setBook({
                    ...emptyBook(),
                    name: data.notebook.name ?? "Board on the table",
                    features: data.notebook.features,
                    readings: [
                      ...emptyBook().readings,
                      reading("17", "depth", ["floor", "board"]),
                      reading("18", "depth", ["floor", "stack"]),
                      reading("19", "depth", ["under", "floor"]),
                    ],
                  });
              });
            }}
          >
            The made-up board on the table
          </Button>
        </div>
      </div>
      <section
        aria-label="Readings"
        className="min-h-0 overflow-y-auto border-l border-rule p-4 text-[12.5px]"
        tabIndex={0}
      >
        <label className="flex items-baseline gap-2">
          <span className="text-soft">Notebook of</span>
          <input
            value={book.name}
            maxLength={60}
            onChange={(e) => {
              set({ name: e.target.value });
            }}
            className={`${cell} flex-1 px-2 text-[14px]`}
          />
        </label>
        <div className="mt-1.5">
          <Choice
            label="Calipers read"
            value={book.unit}
            options={UNITS}
            onPick={(unit) => {
              set({ unit });
            }}
          />
        </div>
        <p className="mt-2 flex items-center gap-2">
          <Button
            onMouseDown={(e) => {
              e.preventDefault(); // the field keeps the cursor, as with the real kind
            }}
            onClick={() => void press()}
          >
            Press the caliper’s button
          </Button>
          <span className="text-soft">simulated; it types into the field with the cursor</span>
        </p>
        <ul className="mt-3">
          {book.readings.map((r) => {
            const left = residual.get(r.id);
            const bad = suspects.includes(r.id) && r.value.trim() !== "";
            return (
              <li
                key={r.id}
                className={`border-t border-rule py-1.5 ${bad ? "bg-[color-mix(in_srgb,var(--vermilion)_9%,transparent)]" : ""}`}
                onMouseEnter={() => {
                  setOn(r.id);
                }}
                onMouseLeave={() => {
                  setOn(null);
                }}
              >
                <div className="flex items-baseline gap-1">
                  <span className="num w-6 text-soft">{r.id}</span>
                  <select
                    aria-label={`Reading ${r.id}: how`}
                    value={r.how}
                    className={cell}
                    onChange={(e) => {
                      const how = e.target.value as Row["how"];
                      const of =
                        how === "diameter"
                          ? r.of.slice(0, 1)
                          : r.of.length > 1
                            ? r.of
                            : [...r.of, r.of[0] === names[0] ? names[1]! : names[0]!];
                      row(r.id, { how, of });
                    }}
                  >
                    {Object.entries(HOW).map(([how, label]) => (
                      <option key={how} value={how}>
                        {label}
                      </option>
                    ))}
                  </select>
                  {r.of.map((name, i) => (
                    <select
                      key={i}
                      aria-label={`Reading ${r.id}: ${i ? "to" : "from"}`}
                      value={name}
                      className={`${cell} w-[4.2rem]`}
                      onChange={(e) => {
                        row(r.id, { of: r.of.map((x, k) => (k === i ? e.target.value : x)) });
                      }}
                    >
                      {names.map((x) => (
                        <option key={x}>{x}</option>
                      ))}
                    </select>
                  ))}
                  {r.of.length > 1 && r.how !== "depth" && (
                    <select
                      aria-label={`Reading ${r.id}: along`}
                      value={r.along}
                      className={cell}
                      onChange={(e) => {
                        row(r.id, { along: e.target.value as Row["along"] });
                      }}
                    >
                      <option value="x">in x</option>
                      <option value="y">in y</option>
                      <option value="straight">straight</option>
                    </select>
                  )}
                </div>
                <div className="mt-1 flex items-center gap-2 pl-7">
                  <input
                    id={`reading-${r.id}`}
                    aria-label={`Reading ${r.id}`}
                    value={r.value}
                    placeholder={book.unit === "mm" ? "mm, or 2 7/16 in" : "inches, or 12 mm"}
                    className={`${cell} num w-28 text-right ${bad ? "border-vermilion" : ""}`}
                    onFocus={() => {
                      last.current = r.id;
                      setOn(r.id);
                    }}
                    onChange={(e) => {
                      row(r.id, { value: e.target.value });
                    }}
                    onKeyDown={(e) => {
                      if (e.key !== "Enter") return;
                      const k = book.readings.findIndex((x) => x.id === r.id);
                      const next = book.readings[k + 1];
                      if (next) document.getElementById(`reading-${next.id}`)?.focus();
                    }}
                  />
                  {left && r.value.trim() !== "" && (
                    <span
                      className="num flex-1 text-[11.5px] text-soft"
                      title="read minus fitted, in parts of its own spread"
                    >
                      {left.checked < 0.02 ? "nothing checks it" : `off ${show(left.residual_mm, 2)}`}
                      {left.checked >= 0.02 && <Bar value={left.stands_out} bad={bad} />}
                    </span>
                  )}
                  <button
                    type="button"
                    aria-label={`Strike reading ${r.id}`}
                    className="ml-auto cursor-pointer px-1 text-soft hover:text-vermilion"
                    onClick={() => {
                      set({ readings: book.readings.filter((x) => x.id !== r.id) });
                    }}
                  >
                    ×
                  </button>
                </div>
              </li>
            );
          })}
        </ul>
        <div className="mt-2 flex flex-wrap gap-2 border-t border-rule pt-3">
          <Button
            onClick={() => {
              add(reading(freeId(), "outside", [names[0]!, names[1] ?? names[0]!]));
            }}
          >
            One more reading
          </Button>
          <Button
            onClick={() => {
              const holes = book.features.filter((f) => f.kind === "hole").length;
              const name = String.fromCharCode(65 + (holes % 26)) + (holes >= 26 ? String(holes) : "");
              if (!names.includes(name))
                set({
                  features: [
                    ...book.features,
                    { name, kind: "hole", axis: null, at_mm: null, near_mm: null, like: null },
                  ],
                });
            }}
          >
            One more hole
          </Button>
        </div>
      </section>
    </div>
  );
}

/** How far a reading stands out, to left or right of what was fitted; the marks are what is doubted. */
function Bar({ value, bad }: { value: number; bad: boolean }) {
  const x = 30 + Math.max(-5, Math.min(5, value)) * 6;
  return (
    <svg width="60" height="9" className="ml-2 inline-block align-middle" aria-hidden>
      <path d="M30 0V9M13.2 2V7M46.8 2V7" stroke="var(--rule)" />
      <rect
        x={Math.min(30, x)}
        y="2.5"
        width={Math.max(1, Math.abs(x - 30))}
        height="4"
        fill={bad ? "var(--vermilion)" : "var(--verdigris)"}
      />
    </svg>
  );
}

function Places({ solved }: { solved: Solved }) {
  const list = (solved.without?.length ? solved.without : solved.features) ?? [];
  const known = (v: number | null | undefined, sure: number) =>
    v === null || v === undefined ? "" : `${show(v, 2)}${sure > 0 ? ` ±${brief(sure, 2)}` : ""}`;
  return (
    <table className="num mt-3 w-full max-w-xl border-collapse text-left text-[12.5px]">
      <caption className="mb-1 text-left font-sans text-soft">
        Places in mm; ± holds in 95 of 100
        {solved.without?.length ? ", without the reading that contradicts" : ""}
      </caption>
      <thead className="font-sans text-soft">
        <tr className="border-b border-ink/40">
          {["", "x", "y", "⌀", "z"].map((h) => (
            <th key={h} scope="col" className="py-0.5 pr-3 font-normal">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {list
          .filter((p) => [p.x_mm, p.y_mm, p.d_mm, p.z_mm].some((v) => v !== null))
          .map((p) => (
            <tr key={p.name} className="border-b border-rule">
              <th scope="row" className="py-0.5 pr-3 font-sans font-medium">
                {p.name}
              </th>
              <td className="pr-3 whitespace-nowrap">{known(p.x_mm, p.sure_x_mm ?? 0)}</td>
              <td className="pr-3 whitespace-nowrap">{known(p.y_mm, p.sure_y_mm ?? 0)}</td>
              <td className="pr-3 whitespace-nowrap">{known(p.d_mm, p.sure_d_mm ?? 0)}</td>
              <td className="pr-3 whitespace-nowrap">{known(p.z_mm, p.sure_z_mm ?? 0)}</td>
            </tr>
          ))}
      </tbody>
    </table>
  );
}
