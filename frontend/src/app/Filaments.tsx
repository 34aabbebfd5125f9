import type { OwnFilament, Usual } from "../api/schema";
import type { Put } from "../desk/workshop";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { freeName } from "./freeName";

/** What each kind of filament costs here and how hot it is printed, and the workshop's own filaments beside the plain kinds; what is not set is as
 * the kind has it. */
export function Filaments({
  own,
  figures,
  usedBy,
  put,
}: {
  own: readonly OwnFilament[];
  figures: Readonly<Record<string, readonly Usual[]>>;
  usedBy: Readonly<Record<string, readonly string[]>>;
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
            <td />
          </tr>
        </thead>
        <tbody>
          {Object.entries(figures).flatMap(([kind, usual]) => {
            const plain = own.find((o) => o.kind === kind && !o.key) ?? bare(kind as OwnFilament["kind"]);
            const others = own.filter((o) => o.kind === kind && o.key);
            // what a filament of one's own leaves open is as the workshop has its kind
            const ofKind = usual.map((u) => ({ ...u, value: plain[u.what as Figure] ?? u.value }));
            return [
              <Row key={kind} filament={plain} usual={usual} usedBy={[]} own={own} put={put} />,
              ...others.map((o) => (
                <Row
                  key={o.key}
                  filament={o}
                  usual={ofKind}
                  usedBy={usedBy[o.key!] ?? []}
                  own={own}
                  put={put}
                />
              )),
            ];
          })}
        </tbody>
      </table>
      <p className="mt-2 text-[12px] text-soft">
        A copy is a filament of your own: it has its name, price and temperatures, and bears and shrinks like
        its kind.
      </p>
    </section>
  );
}

function bare(kind: OwnFilament["kind"]): OwnFilament {
  return { kind, key: null, name: null, price_per_kg: null, nozzle_c: null, bed_c: null };
}

function Row({
  filament: f,
  usual,
  usedBy,
  own,
  put,
}: {
  filament: OwnFilament;
  usual: readonly Usual[];
  usedBy: readonly string[];
  own: readonly OwnFilament[];
  put: Put;
}) {
  const called = f.name ?? f.kind;
  const change = (what: Partial<OwnFilament>) => {
    put((w) => {
      const now = w.filaments.find((o) => o.kind === f.kind && (o.key ?? null) === (f.key ?? null)) ?? f;
      return [{ do: "put-filament", filament: { ...now, ...what } }];
    });
  };
  return (
    <tr className="border-b border-rule">
      <th scope="row" className="py-1 pr-6 font-medium">
        {f.key ? (
          <span className="flex items-baseline gap-1.5 pl-3">
            <input
              aria-label={`Name of ${called}`}
              defaultValue={called}
              maxLength={60}
              onBlur={(e) => {
                const name = e.target.value.trim();
                if (name && name !== f.name) change({ name });
                else e.target.value = called;
              }}
              className="w-44 rounded-[3px] border border-rule bg-leaf px-1.5 py-0.5 font-medium"
            />
            <span className="text-[11px] font-normal text-soft">{f.kind}</span>
          </span>
        ) : (
          f.kind
        )}
      </th>
      {usual.map((u) => (
        <td key={u.what} className="pr-6">
          <NumberField
            label={`${u.label} of ${called}`}
            hideLabel
            unit={u.unit}
            min={0}
            step={u.unit === "EUR" ? 1 : 5}
            value={f[u.what as Figure] ?? u.value}
            onCommit={(v) => {
              change({ [u.what]: v === u.value ? null : v });
            }}
          />
          {f[u.what as Figure] != null && (
            <span className="ml-1 text-[11px] text-soft">usually {u.value}</span>
          )}
        </td>
      ))}
      <td className="whitespace-nowrap">
        <Button
          kind="quiet"
          aria-label={`Copy ${called}`}
          onClick={() => {
            const taken = new Set(own.map((o) => o.key));
            put([
              {
                do: "put-filament",
                filament: { ...f, key: freeName(`own-${f.kind}`, taken), name: `${called}, own` },
              },
            ]);
          }}
        >
          Copy
        </Button>
        {f.key && (
          <Button
            kind="quiet"
            aria-label={`Remove ${called}`}
            disabled={usedBy.length > 0}
            onClick={() => {
              put([{ do: "remove-filament", key: f.key! }]);
            }}
          >
            Remove
          </Button>
        )}
        {usedBy.length > 0 && (
          <span className="text-[11.5px] text-soft">
            {usedBy.map((n) => `“${n}”`).join(", ")} printed in it
          </span>
        )}
      </td>
    </tr>
  );
}

type Figure = "price_per_kg" | "nozzle_c" | "bed_c";
