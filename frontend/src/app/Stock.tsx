import { useState } from "react";

import type { StockItem, WorkshopOut } from "../api/schema";
import type { Put } from "../desk/workshop";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { Pick } from "../ui/Pick";
import { TableHead } from "../ui/TableHead";

type Kinds = WorkshopOut["small_parts"];

/** Screws, inserts, nuts and the like that lie in the drawer, and what a pack of them costs here. */
export function Stock({ kinds, stock, put }: { kinds: Kinds; stock: readonly StockItem[]; put: Put }) {
  const [item, setItem] = useState<StockItem["item"]>("screw, socket cap");
  const [size, setSize] = useState("");
  const kind = kinds.find((k) => k.item === item);
  /** Only what changed: what another window says of the same meanwhile stays. */
  const set = ({ item, size }: StockItem, change: Partial<StockItem>) => {
    put([{ do: "put-stock", stock: { item, size, ...change } as StockItem }]);
  };
  return (
    <section className="mt-7">
      <h2 className="mb-2 text-[16px]">The drawer</h2>
      {stock.length > 0 && (
        <table className="border-collapse text-left">
          <caption className="sr-only">Screws and small components</caption>
          <TableHead heads={["What", "Size", "How many", "In a pack", "Price of a pack"]} wide more />
          <tbody>
            {stock.map((s) => {
              const usual = kinds.find((k) => k.item === s.item);
              const name = `${s.item} ${s.size}`;
              return (
                <tr key={name} className="border-b border-rule">
                  <th scope="row" className="py-1 pr-6 font-medium">
                    {s.item}
                  </th>
                  <td className="num pr-6">{s.size}</td>
                  <td className="pr-6">
                    <NumberField
                      label={`How many ${name}`}
                      hideLabel
                      unit=""
                      min={0}
                      value={s.count}
                      onCommit={(v) => {
                        set(s, { count: Math.round(v) });
                      }}
                    />
                  </td>
                  <td className="pr-6">
                    <NumberField
                      label={`Pack of ${name}`}
                      hideLabel
                      unit=""
                      min={1}
                      value={s.pack ?? usual?.pack ?? 1}
                      onCommit={(v) => {
                        set(s, { pack: Math.round(v) });
                      }}
                    />
                  </td>
                  <td className="pr-6">
                    <NumberField
                      label={`Price of a pack of ${name}`}
                      hideLabel
                      unit="EUR"
                      min={0}
                      value={s.pack_money ?? usual?.money ?? 0}
                      onCommit={(v) => {
                        set(s, { pack_money: v });
                      }}
                    />
                  </td>
                  <td>
                    <Button
                      kind="quiet"
                      onClick={() => {
                        put([{ do: "remove-stock", item: s.item, size: s.size }]);
                      }}
                    >
                      Remove
                    </Button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      <form
        className="mt-3 flex flex-wrap items-center gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          put([
            {
              do: "put-stock",
              stock: { item, size: size.trim(), count: kind?.pack ?? 1, pack: null, pack_money: null },
            },
          ]);
          setSize("");
        }}
      >
        <Pick
          label="What lies in the drawer"
          value={item}
          options={kinds.map((k) => k.item)}
          onPick={setItem}
        />
        <input
          aria-label="Its size"
          placeholder={kind?.example}
          value={size}
          maxLength={40}
          required
          onChange={(e) => {
            setSize(e.target.value);
          }}
          className="num w-32 rounded-[3px] border border-rule bg-leaf px-1.5 py-1"
        />
        <Button type="submit">Put a pack into the drawer</Button>
      </form>
    </section>
  );
}
