import { useState } from "react";

import type { OwnFilament, Spool } from "../api/schema";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { TableHead } from "../ui/TableHead";
import type { Put } from "../desk/workshop";
import { freeName } from "./freeName";

/** The spools on the rack: weighed, dried, put up and taken off. */
export function Spools({
  spools,
  filaments,
  own: all,
  put,
}: {
  spools: Spool[];
  own: readonly OwnFilament[];
  filaments: readonly Spool["filament"][];
  put: Put;
}) {
  const own = all.filter((o) => o.key);
  const called = (s: Spool) => own.find((o) => o.key === s.own)?.name ?? s.filament;
  const [kind, setKind] = useState<string>("PLA");
  const [colour, setColour] = useState("");
  const set = (id: string, change: Partial<Spool>) => {
    const spool = spools.find((s) => s.id === id);
    if (spool)
      put((w) =>
        w.spools
          .filter((s) => s.id === spool.id)
          .map((s) => ({ do: "put-spool", spool: { ...s, ...change } })),
      );
  };
  return (
    <section className="mt-7">
      <h2 className="mb-2 text-[16px]">The rack</h2>
      <table className="border-collapse text-left">
        <caption className="sr-only">Spools</caption>
        <TableHead
          heads={[
            "Filament",
            "Colour",
            "Left, weighed without the spool",
            "Price per kg (0: the usual)",
            "Dried on",
          ]}
          wide
          more
        />
        <tbody>
          {spools.map((s) => (
            <tr key={s.id} className="border-b border-rule">
              <th scope="row" className="py-1 pr-6 font-medium">
                {called(s)}
              </th>
              <td className="pr-6">{s.colour}</td>
              <td className="pr-6">
                <NumberField
                  label={`Grams left of ${called(s)} ${s.colour}`}
                  hideLabel
                  unit="g"
                  step={10}
                  min={0}
                  value={s.left_g}
                  onCommit={(v) => {
                    set(s.id, { left_g: v });
                  }}
                />
              </td>
              <td className="pr-6">
                <NumberField
                  label={`Price of ${called(s)} ${s.colour}`}
                  hideLabel
                  unit="EUR"
                  min={0}
                  value={s.price_per_kg ?? 0}
                  onCommit={(v) => {
                    set(s.id, { price_per_kg: v > 0 ? v : null });
                  }}
                />
              </td>
              <td className="pr-6">
                <input
                  type="date"
                  aria-label={`Day ${called(s)} ${s.colour} was dried`}
                  value={s.dried}
                  onChange={(e) => {
                    set(s.id, { dried: e.target.value });
                  }}
                  className="num rounded-[3px] border border-rule bg-leaf px-1.5 py-0.5"
                />
              </td>
              <td>
                <Button
                  kind="quiet"
                  onClick={() => {
                    put([{ do: "remove-spool", id: s.id }]);
                  }}
                >
                  Remove
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <form
        className="mt-3 flex items-center gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          const name = colour.trim() || "plain";
          const mine = own.find((o) => o.key === kind);
          const filament = mine?.kind ?? (kind as Spool["filament"]);
          const id = freeName(`${kind}-${name}`, new Set(spools.map((x) => x.id)));
          put([
            {
              do: "put-spool",
              spool: {
                id,
                filament,
                own: mine?.key ?? null,
                colour: name,
                left_g: 1000,
                price_per_kg: null,
                dried: "",
              },
            },
          ]);
          setColour("");
        }}
      >
        <select
          aria-label="Filament of a new spool"
          value={kind}
          onChange={(e) => {
            setKind(e.target.value);
          }}
          className="rounded-[3px] border border-rule bg-leaf px-1.5 py-1"
        >
          {filaments.map((f) => (
            <option key={f}>{f}</option>
          ))}
          {own.map((o) => (
            <option key={o.key} value={o.key!}>
              {o.name}
            </option>
          ))}
        </select>
        <input
          aria-label="Colour of a new spool"
          placeholder="colour"
          value={colour}
          maxLength={60}
          onChange={(e) => {
            setColour(e.target.value);
          }}
          className="w-32 rounded-[3px] border border-rule bg-leaf px-1.5 py-1"
        />
        <Button type="submit">Put a spool on the rack</Button>
      </form>
    </section>
  );
}
