import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, complaint } from "../api/client";
import type { Learned, Limits as GcodeLimits, Pace, Printer } from "../api/schema";
import { GcodeDrop } from "../stops/plan/GcodeDrop";
import { Button } from "../ui/Button";
import { brief, duration, readMm } from "../ui/number";
import type { Put } from "../desk/workshop";

/** Planned against real hours: what they teach. */
export function PrinterDiary({
  printer: p,
  pace,
  learned,
  set,
  put,
}: {
  printer: Printer;
  pace: Pace;
  learned: Learned;
  set: (c: Partial<Printer>) => void;
  put: Put;
}) {
  const [what, setWhat] = useState("");
  const [planned, setPlanned] = useState("");
  const [real, setReal] = useState("");
  const a = readMm(planned);
  const b = readMm(real);
  return (
    <div className="mt-3">
      <h4 className="mb-1 font-head font-semibold">Pace</h4>
      <p>
        <span className="num">{brief(pace.factor, 2)}</span> × planned, nine in ten between{" "}
        <span className="num">{brief(pace.low, 2)}</span> and{" "}
        <span className="num">{brief(pace.high, 2)}</span>
        <span className="text-soft">
          {pace.prints
            ? `; taught by ${pace.prints} print${pace.prints > 1 ? "s" : ""}`
            : "; no print has taught it yet"}
        </span>
      </p>
      <ul className="text-[12.5px]">
        {p.paced.map((x, i) => (
          <li key={i} className="flex items-baseline gap-2">
            <span className="min-w-0 flex-1 truncate">{x.what}</span>
            <span className="num text-soft">
              {duration(x.planned_s)} → {duration(x.real_s)}
            </span>
            <button
              type="button"
              aria-label={`Strike out ${x.what}`}
              className="cursor-pointer px-1 text-soft hover:text-vermilion"
              onClick={() => {
                set({ paced: p.paced.filter((_, k) => k !== i) });
              }}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      <form
        className="mt-1 flex gap-1.5"
        onSubmit={(e) => {
          e.preventDefault();
          if (!a || !b || a <= 0 || b <= 0) return;
          const entry = {
            what: what.trim() || "a print",
            planned_s: a * 3600,
            curves: null,
            real_s: b * 3600,
          };
          set({ paced: [...p.paced, entry] });
          setWhat("");
          setPlanned("");
          setReal("");
        }}
      >
        {(
          [
            ["What was printed", what, setWhat, "what", "flex-1"],
            ["Hours planned", planned, setPlanned, "planned h", "w-[4.8rem]"],
            ["Hours it really took", real, setReal, "real h", "w-[4.2rem]"],
          ] as const
        ).map(([label, value, change, hint, width]) => (
          <input
            key={label}
            aria-label={`${label}, ${p.name}`}
            placeholder={hint}
            value={value}
            onChange={(e) => {
              change(e.target.value);
            }}
            className={`${width} min-w-0 rounded-[3px] border border-rule bg-paper px-1.5 py-0.5`}
          />
        ))}
        <Button type="submit">Note</Button>
      </form>
      <div className="mt-2">
        <GcodeDrop printer={p.key}>
          {(report, file) => (
            <>
              <TakeLimits limits={report.limits} set={set} />
              <RealGcode printer={p} file={file} time_s={report.time_s} />
            </>
          )}
        </GcodeDrop>
      </div>
      <LearnedLimits learned={learned} put={put} />
    </div>
  );
}

/** How long a file of G-code really took. */
function RealGcode({ printer: p, file, time_s }: { printer: Printer; file: File; time_s: number }) {
  const client = useQueryClient();
  const [said, setSaid] = useState("");
  const note = async (real_s: number) => {
    setSaid("Driving the file with other limits …");
    const form = new FormData();
    form.set("file", file);
    form.set("what", file.name.slice(0, 60));
    form.set("real_s", String(real_s));
    try {
      const { data, error } = await api.POST("/api/printers/{key}/diary", {
        params: { path: { key: p.key } },
        body: form,
      });
      if (data) {
        client.setQueryData(["workshop"], data);
        void client.invalidateQueries({ queryKey: ["design"] });
      }
      setSaid(data ? "" : complaint(error).message);
    } catch {
      setSaid("The server did not answer; nothing was noted.");
    }
  };
  return (
    <form
      className="mt-1 flex flex-wrap items-baseline gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        const took = readMm(String(new FormData(e.currentTarget).get("real")));
        if (took && took > 0) void note(took * 3600);
        else setSaid("Give the hours as a number above zero.");
      }}
    >
      <label>
        It really took{" "}
        <input
          name="real"
          aria-label={`Hours ${file.name} really took`}
          placeholder={brief(time_s / 3600, 2)}
          className="num w-[4.4rem] rounded-[3px] border border-rule bg-paper px-1.5 py-0.5 text-right"
        />{" "}
        h
      </label>
      <Button type="submit">Log this print</Button>
      <span role="status" className="text-soft">
        {said}
      </span>
    </form>
  );
}

/** The print that was not counted, by name. */
function OddPrint({ odd }: { odd: Learned["odd"] }) {
  if (!odd) return null;
  const by = brief(Math.abs(odd.off) * 100, 0);
  return (
    <span className="block text-soft">
      <q>{odd.what}</q> does not fit the others and is not counted: it took {by} %{" "}
      {odd.off > 0 ? "longer" : "less"} than they let expect. Look whether its hours are right.
    </span>
  );
}

/** The limits that the hours speak for, to be taken over. */
function LearnedLimits({ learned: l, put }: { learned: Learned; put: Put }) {
  if (l.prints === 0) return null;
  if (!l.printer)
    return (
      <p className="mt-2 text-[12.5px] text-soft">
        Its limits cannot be told from its hours: {l.silence}. <OddPrint odd={l.odd} />
      </p>
    );
  const taught = l.printer;
  return (
    <div className="mt-2 text-[12.5px]">
      <table>
        <caption className="mb-0.5 text-left">Logged print times suggest other limits</caption>
        <tbody>
          {l.limits.map((x) => (
            <tr key={x.limit}>
              <th scope="row" className="pr-2 text-left font-normal text-soft">
                {x.name}
              </th>
              <td className="num">
                {brief(x.now, 0)} → {brief(x.value, x.value < 20 ? 1 : 0)} {x.unit}
              </td>
              <td className="num pl-2 text-soft">
                {brief(x.low, x.low < 20 ? 1 : 0)} to {brief(x.high, x.high < 20 ? 1 : 0)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {l.limits.map(
        (x) =>
          x.rivals.length > 0 && (
            <p key={x.limit} className="text-soft">
              Another {x.rivals.join(" or ")} in place of the {x.name}, or beside it, would explain them
              nearly as well.
            </p>
          ),
      )}
      <OddPrint odd={l.odd} />
      <div className="mt-1">
        <Button
          onClick={() => {
            put([{ do: "put-printer", printer: taught }]);
          }}
        >
          Take them over
        </Button>
      </div>
    </div>
  );
}

const LIMITS = [
  ["speed_mm_s", "speed", "mm/s"],
  ["accel_mm_s2", "acceleration", "mm/s²"],
  ["travel_accel_mm_s2", "acceleration of travel", "mm/s²"],
  ["corner_mm_s", "at corners", "mm/s"],
] as const;

/** Limits of the machine that a file of G-code names, to be taken over. */
function TakeLimits({ limits, set }: { limits: GcodeLimits; set: (c: Partial<Printer>) => void }) {
  const named = LIMITS.filter(([field]) => limits[field] !== null);
  if (!named.length) return null;
  return (
    <p className="mt-1 flex flex-wrap items-baseline gap-2">
      <span>
        The file names limits:{" "}
        {named.map(([field, label, unit]) => `${label} ${brief(limits[field]!, 0)} ${unit}`).join(", ")}.
      </span>
      <Button
        onClick={() => {
          set(Object.fromEntries(named.map(([field]) => [field, limits[field]!])));
        }}
      >
        Take them over
      </Button>
    </p>
  );
}
