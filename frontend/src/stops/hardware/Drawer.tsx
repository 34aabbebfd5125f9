import { useQueryClient } from "@tanstack/react-query";

import { api, complaint } from "../../api/client";
import type { HardwareTable, StockItem } from "../../api/schema";
import { useUi } from "../../desk/desk";
import type { ShopEdit } from "../../desk/workshop";
import { NumberField } from "../../ui/NumberField";
import { brief, show } from "../../ui/number";
import { Why } from "../../ui/Why";
import { TableHead } from "../../ui/TableHead";

type Bought = HardwareTable["shopping"]["lines"][number];

/** What the case takes against what lies in the drawer, and what is to be bought. */
export function Drawer({ table }: { table: HardwareTable }) {
  const client = useQueryClient();
  const put = async (edit: ShopEdit) => {
    const { data, error } = await api.POST("/api/workshop/edits", { body: { edits: [edit] } });
    if (!data) {
      useUi.setState({ notice: complaint(error) });
      return;
    }
    await client.invalidateQueries({ queryKey: ["workshop"] });
    await client.invalidateQueries({ queryKey: ["hardware"] });
  };
  const { lines, sheets, money } = table.shopping;
  const packs = lines.filter((x) => x.packs > 0);
  return (
    <section className="mt-6 border-t border-rule pt-4">
      <h2 className="mb-1 text-[15px]">Shopping list</h2>
      <p className="mb-2 text-soft">
        {packs.length === 0
          ? "Everything small lies in the drawer."
          : `${packs.length} ${packs.length === 1 ? "pack" : "kinds"} to buy. Say what lies in the drawer, and it is taken off.`}
        {sheets.length > 0 &&
          ` ${sheets.length} ${sheets.length === 1 ? "sheet is" : "sheets are"} cut to size.`}
        {money > 0 && ` About ${show(money, 2)} EUR in all.`}
      </p>
      <table className="w-full border-collapse text-left">
        <caption className="sr-only">What to buy</caption>
        <TableHead heads={["What", "Size", "Needed", "In the drawer", "Buy", "EUR"]} />
        <tbody>
          {lines.map((x) => (
            <tr key={`${x.item} ${x.size}`} className="border-b border-rule">
              <th scope="row" className="py-1 pr-3 font-medium">
                {x.item}
              </th>
              <td className={`pr-3 ${x.known ? "num" : "text-vermilion"}`}>{x.size}</td>
              <td className="num pr-3">{x.need}</td>
              <td className="pr-3">
                {x.known && (
                  <NumberField
                    label={`${x.item} ${x.size} in the drawer`}
                    hideLabel
                    narrow
                    unit=""
                    min={0}
                    value={x.have}
                    onCommit={(v) => void put(counted(x, v))}
                  />
                )}
              </td>
              <td className="num pr-3 whitespace-nowrap">
                {x.packs > 0 ? `${x.packs} x ${x.pack}` : x.known ? "" : "not sold"}
              </td>
              <td className="num">
                {x.packs > 0 && (
                  <Why label={`Money for ${x.item} ${x.size}`} trail={x.money}>
                    {show(x.money.value, 2)}
                  </Why>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {sheets.length > 0 && <Sheets sheets={sheets} />}
    </section>
  );
}

/** What is cut from bought sheet: what to ask the supplier for. */
function Sheets({ sheets }: { sheets: HardwareTable["shopping"]["sheets"] }) {
  return (
    <table className="mt-4 w-full border-collapse text-left">
      <caption className="sr-only">Sheet cut to size</caption>
      <TableHead heads={["Part", "Sheet", "Size", "Bends", "EUR"]} />
      <tbody>
        {sheets.map((x) => (
          <tr key={x.part} className="border-b border-rule">
            <th scope="row" className="py-1 pr-3 font-medium">
              {x.part}
            </th>
            <td className="pr-3">
              {x.material}, <span className="num">{brief(x.thick_mm)}</span> mm
            </td>
            <td className="num pr-3 whitespace-nowrap">{x.size_mm.map((v) => show(v, 1)).join(" x ")} mm</td>
            <td className="num pr-3">{x.bends || ""}</td>
            <td className="num">
              <Why label={`Money for ${x.part}`} trail={x.money}>
                {show(x.money.value, 2)}
              </Why>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The count changed; the workshop's own pack and price of it, which may just be on their way, are not told again and stay. */
function counted(x: Bought, count: number): ShopEdit {
  const stock = { item: x.item, size: x.size, count: Math.round(count) } as StockItem;
  return { do: "put-stock", stock };
}
