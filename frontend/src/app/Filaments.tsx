import type { OwnFilament, Usual } from "../api/schema";
import type { Put } from "../desk/workshop";
import { NumberField } from "../ui/NumberField";

/** What each kind of filament costs here and how hot it is printed; what is not set is as the table has it. */
export function Filaments({
  own,
  figures,
  put,
}: {
  own: readonly OwnFilament[];
  figures: Readonly<Record<string, readonly Usual[]>>;
  put: Put;
}) {
  const columns = Object.values(figures)[0] ?? [];
  return (
    <section className="mt-7" aria-label="Filaments">
      <h2 className="mb-2 text-[16px]">Filaments</h2>
      <table className="border-collapse text-left">
        <caption className="sr-only">Prices and temperatures of filaments</caption>
        <thead className="text-[12px] text-soft">
          <tr className="border-b border-ink/40">
            <th scope="col" className="py-1 pr-6 font-normal">
              Filament
            </th>
            {columns.map((c) => (
              <th key={c.what} scope="col" className="py-1 pr-6 font-normal">
                {c.label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {Object.entries(figures).map(([kind, usual]) => {
            const set = own.find((o) => o.kind === kind);
            return (
              <tr key={kind} className="border-b border-rule">
                <th scope="row" className="py-1 pr-6 font-medium">
                  {kind}
                </th>
                {usual.map((u) => (
                  <td key={u.what} className="pr-6">
                    <NumberField
                      label={`${u.label} of ${kind}`}
                      hideLabel
                      unit={u.unit}
                      min={0}
                      step={u.unit === "EUR" ? 1 : 5}
                      value={set?.[u.what as Figure] ?? u.value}
                      onCommit={(v) => {
                        put((w) => {
                          const now = w.filaments.find((o) => o.kind === kind);
                          const filament = {
                            kind: kind as OwnFilament["kind"],
                            price_per_kg: null,
                            nozzle_c: null,
                            bed_c: null,
                            ...now,
                            [u.what]: v === u.value ? null : v,
                          };
                          return [{ do: "put-filament", filament }];
                        });
                      }}
                    />
                    {set?.[u.what as Figure] != null && (
                      <span className="ml-1 text-[11px] text-soft">usually {u.value}</span>
                    )}
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

type Figure = "price_per_kg" | "nozzle_c" | "bed_c";
