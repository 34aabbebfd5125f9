import type { Edit } from "../../api/client";
import type { HardwareTable } from "../../api/schema";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { brief, show } from "../../ui/number";
import { Why } from "../../ui/Why";

type Table = NonNullable<HardwareTable["snaps"]>;

const FIELDS = [
  { field: "arm_mm", label: "Arms thick", step: 0.1 },
  { field: "wide_mm", label: "Arms wide", step: 1 },
  { field: "catch_mm", label: "Catch", step: 0.1 },
] as const;

/** Hooks that hold a lid or a wrap in place of its screws: their sizes, how far they are bent, what presses it on and pulls it off.
 * Fields are those of the design as it stands; figures are of what is typed or pointed at. */
export function Snaps({
  table,
  looked,
  onEdit,
}: {
  table: Table;
  looked: HardwareTable["snaps"];
  onEdit: (e: Edit, said: string) => void;
}) {
  const { now, start, held, hook_on } = table;
  if (!now)
    return start ? (
      <section aria-label="Snaps" className="mt-2 flex flex-wrap items-baseline gap-x-3 gap-y-1">
        <Button onClick={() => onEdit(start, "hold it by snaps")}>Hold it by snaps</Button>
        <span className="text-[12.5px] text-soft">
          Hooks printed with the {hook_on}, bent across their layers: for{" "}
          {hook_on === held ? "deep lids" : "high rooms"} and filament that gives.
        </span>
      </section>
    ) : null;
  const { holds, wanted } = looked?.now ? looked : table;
  return (
    <section aria-label="Snaps" className="mt-6 border-t border-rule pt-4">
      <h2 className="mb-1 text-[15px]">Snaps</h2>
      <p className={`mb-2 ${holds && holds.count < wanted ? "text-saffron" : "text-soft"}`}>
        {holds
          ? `${holds.count} of ${wanted} hooks have a place; their arms are ${brief(holds.long_mm, 1)} mm long.`
          : "No hook finds a place: everything stands at the walls."}
      </p>
      <div className="mb-3 flex flex-wrap items-baseline gap-x-5 gap-y-1.5">
        {FIELDS.map(({ field, label, step }) => (
          <NumberField
            tried
            key={field}
            label={label}
            value={now[field]}
            step={step}
            min={0}
            onCommit={(v) =>
              onEdit({ do: "snaps", snaps: { ...now, [field]: v } }, `${label.toLowerCase()} ${v} mm`)
            }
          />
        ))}
        <Button onClick={() => onEdit({ do: "snaps", snaps: null }, "hold it by screws")}>
          Hold it by screws
        </Button>
      </div>
      {holds && (
        <dl className="grid max-w-[34rem] grid-cols-[auto_1fr] gap-x-4 gap-y-0.5 text-[12.5px]">
          <dt className="text-soft">Bent by</dt>
          <dd className="num">
            <Why label="How far an arm is bent as it passes" trail={holds.strain}>
              <span className={holds.strain.value > holds.bears.value ? "text-vermilion" : ""}>
                {show(holds.strain.value, 2)} %
              </span>
            </Why>{" "}
            of at most{" "}
            <Why label="What its layers bear" trail={holds.bears}>
              {show(holds.bears.value, 2)} %
            </Why>
          </dd>
          <dt className="text-soft">Pressed on with</dt>
          <dd className="num">
            <Why label={`What presses the ${held} on`} trail={holds.on_n}>
              {show(holds.on_n.value, 0)} N
            </Why>
          </dd>
          <dt className="text-soft">Pulled off with</dt>
          <dd className="num">
            <Why label={`What pulls the ${held} off`} trail={holds.off_n}>
              {show(holds.off_n.value, 0)} N
            </Why>
            ; in a knock it weighs {show(holds.knock_n.value, 1)} N
          </dd>
        </dl>
      )}
    </section>
  );
}
